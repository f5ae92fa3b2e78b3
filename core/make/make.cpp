// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/make.h"

#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/kernels/real_geometry.h"
#include "core/make/digest.h"
#include "core/make/inner_kits.h"
#include "core/recipe/edit.h"
#include "core/shape/words.h"

namespace bricol {

namespace {

using Clock = std::chrono::steady_clock;
double since(Clock::time_point start) {
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

/// One step of one part as a node of the whole recipe's graph.
struct Node {
    std::size_t part, step;
    std::vector<std::pair<std::string, int>> sources;  // input → node; -1 when missing
    std::vector<Finding> link_findings;
    std::vector<int> followers;
    int waiting = 0;
};

ShapePtr nothing() {
    static const auto empty = std::make_shared<const Shape>();
    return empty;
}

struct Graph {
    std::vector<Node> nodes;
    std::vector<std::vector<int>> of_step;  // part → step → node
    std::vector<std::unordered_map<std::string, int>> by_id;

    explicit Graph(const Recipe& recipe) {
        for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
            of_step.emplace_back();
            by_id.emplace_back();
            for (std::size_t s = 0; s < recipe.parts[p]->steps.size(); ++s) {
                of_step[p].push_back(static_cast<int>(nodes.size()));
                by_id[p].emplace(recipe.parts[p]->steps[s]->id, static_cast<int>(nodes.size()));
                nodes.push_back({p, s, {}, {}, {}, 0});
            }
        }
        for (Node& node : nodes) link(recipe, node);
        for (std::size_t n = 0; n < nodes.size(); ++n)
            for (const auto& [input, source] : nodes[n].sources)
                if (source >= 0) {
                    nodes[source].followers.push_back(static_cast<int>(n));
                    ++nodes[n].waiting;
                }
    }

    int result_of(const Recipe& recipe, const std::string& part) const {
        for (std::size_t p = 0; p < recipe.parts.size(); ++p)
            if (recipe.parts[p]->name == part) {
                const Step* result = result_step(*recipe.parts[p]);
                return result ? by_id[p].find(result->id)->second : -1;
            }
        return -2;
    }

private:
    void link(const Recipe& recipe, Node& node) {
        const Part& part = *recipe.parts[node.part];
        const Step& step = *part.steps[node.step];
        const StepInfo* info = find_step_info(step.type);
        const auto connect = [&](const std::string& input, const std::string& source) {
            if (source.empty()) return;
            int found = -1;
            if (source.starts_with("part:")) {
                found = result_of(recipe, source.substr(5));
                if (found == -2)
                    node.link_findings.push_back(
                        {Severity::error,
                         "unknown-part",
                         fmt::format("There is no part “{}” to take {} from.", source.substr(5), input),
                         {},
                         {}});
            } else if (const auto at = by_id[node.part].find(source); at != by_id[node.part].end()) {
                found = at->second;
            } else {
                node.link_findings.push_back({Severity::error,
                                              "unknown-step",
                                              fmt::format("There is no step “{}” to take {} from.", source, input),
                                              {},
                                              {}});
            }
            if (found >= 0) node.sources.emplace_back(input, found);
        };
        if (!info) {
            connect("shape", source_of(part, node.step, "shape"));
            return;
        }
        for (const InputInfo& input : info->inputs)
            connect(std::string(input.key), source_of(part, node.step, std::string(input.key)));
        // A parameter that names a part is a link as well.
        for (const ParameterInfo& p : info->parameters)
            if (p.kind == ParameterKind::part && step.settings.contains(std::string(p.key)) &&
                step.settings[std::string(p.key)].is_string() && step.settings[std::string(p.key)] != "")
                connect(std::string(p.key), "part:" + step.settings[std::string(p.key)].get<std::string>());
    }
};

std::string content_words(unsigned content) {
    std::string words;
    const auto add = [&](unsigned bit, const char* word) {
        if (content & bit) words += (words.empty() ? "" : " or ") + std::string(word);
    };
    add(content_curves, "curves");
    add(content_faces, "a mesh");
    if (!(content & content_faces)) add(content_instances, "instances");
    if (!(content & content_faces)) add(content_edges, "edges");
    if (!(content & (content_faces | content_edges))) add(content_points, "points");
    return words.empty() ? "nothing" : words;
}

std::string content_found(const Shape& shape) {
    if (shape.empty()) return "nothing";
    if (!shape.instances.empty()) return "instances";
    const unsigned content = content_of(shape);
    if (content & content_faces) return content & content_curves ? "a mesh and curves" : "a mesh";
    if (content & content_curves) return "curves";
    return content & content_edges ? "loose edges" : "points";
}

}  // namespace

const StepOutcome* Made::step(const Recipe& recipe, const std::string& part, const std::string& id) const {
    for (std::size_t p = 0; p < recipe.parts.size() && p < steps.size(); ++p)
        if (recipe.parts[p]->name == part) {
            const std::size_t s = step_index(*recipe.parts[p], id);
            return s < steps[p].size() ? steps[p][s].get() : nullptr;
        }
    return nullptr;
}

const PartOutcome* Made::part(const Recipe& recipe, const std::string& name) const {
    for (std::size_t p = 0; p < recipe.parts.size() && p < parts.size(); ++p)
        if (recipe.parts[p]->name == name) return parts[p].get();
    return nullptr;
}

bool Made::has_errors() const {
    const auto any = [](const std::vector<Finding>& list) {
        return std::ranges::any_of(list, [](const Finding& f) { return f.severity == Severity::error; });
    };
    for (const auto& part : steps)
        for (const auto& outcome : part)
            if (outcome && any(outcome->findings)) return true;
    for (const auto& part : parts)
        if (part && any(part->findings)) return true;
    return any(findings);
}

std::size_t Made::faces(const Recipe& recipe) const {
    std::size_t sum = 0;
    for (std::size_t p = 0; p < recipe.parts.size() && p < parts.size(); ++p)
        if (!recipe.parts[p]->hidden && parts[p]) sum += parts[p]->shape->face_count();
    return sum;
}

std::shared_ptr<const StepOutcome> Maker::recall(std::uint64_t hash) {
    const std::scoped_lock lock(mutex_);
    const auto found = kept_.find(hash);
    if (found == kept_.end()) return nullptr;
    order_.splice(order_.begin(), order_, found->second.place);
    return found->second.outcome;
}

void Maker::keep(const std::shared_ptr<const StepOutcome>& outcome) {
    const std::scoped_lock lock(mutex_);
    if (kept_.contains(outcome->hash)) return;
    const std::size_t bytes = outcome->shape->bytes() + 512;
    order_.push_front(outcome->hash);
    kept_[outcome->hash] = {outcome, order_.begin(), bytes};
    bytes_ += bytes;
    while (bytes_ > bound_ && order_.size() > 1) {
        const auto oldest = kept_.find(order_.back());
        bytes_ -= oldest->second.bytes;
        kept_.erase(oldest);
        order_.pop_back();
    }
}

void Maker::forget() {
    const std::scoped_lock lock(mutex_);
    kept_.clear();
    order_.clear();
    finished_.clear();
    bytes_ = 0;
}

namespace {

/// Runs one step on its inputs. Whatever it throws becomes an error finding and the input passes through.
void run_step(const StepInfo& info, StepRun& run, StepOutcome& outcome) {
    const ShapePtr passed = run.input_pointer("shape") ? run.input_pointer("shape") : nothing();
    bool can_run = true;
    for (const InputInfo& input : info.inputs)  // a step that cannot work on instances gets them written out
        if (!(input.accepts & content_instances) && !run.input(input.key).instances.empty()) {
            const auto given = run.inputs.find(input.key);
            if (run.too_many(static_cast<double>(given->second->face_count()), most_faces, "faces of real geometry",
                             "Use fewer instances."))
                can_run = false;
            else
                given->second = real_geometry(given->second);
        }
    for (const InputInfo& input : info.inputs) {
        const Shape& shape = run.input(input.key);
        // Faces and curves are known at once; only a step that lives on loose edges has them looked for.
        const bool plain = (shape.mesh.face_count() > 0 && (input.accepts & content_faces)) ||
                           (!shape.curves.empty() && (input.accepts & content_curves));
        const bool fits = plain || (content_of(shape) & input.accepts) != 0;
        if (fits || (!input.required && shape.empty())) continue;
        can_run = false;
        run.find(Severity::error, "wrong-input",
                 shape.empty() ? fmt::format("{} needs {} here, but there is nothing yet.", info.name,
                                             content_words(input.accepts))
                               : fmt::format("{} needs {}; this is {}.", info.name, content_words(input.accepts),
                                             content_found(shape)));
    }
    if (can_run && info.aside) {  // values and words: nothing to make
        run.result = nothing();
        can_run = false;
    }
    if (can_run) {
        try {
            if (info.make) info.make(run);
        } catch (const std::bad_alloc&) {
            run.find(Severity::error, "out-of-memory", "There is not enough memory for this. Use smaller counts.");
        } catch (const std::exception& error) {
            run.find(Severity::error, "failed", fmt::format("The step could not be made ({}).", error.what()));
        }
    }
    const bool failed = std::ranges::any_of(run.findings, [](const Finding& f) {
        return f.severity == Severity::error && f.code != "bad-value" && f.code != "out-of-range";
    });
    if (run.result)
        for (const Vec3& p : *run.result->mesh.positions)
            if (!std::isfinite(p.x + p.y + p.z)) {
                run.find(Severity::error, "not-finite",
                         "The numbers of this step lead to points that are infinitely far away.");
                run.result = nullptr;
                break;
            }
    outcome.failed = failed || !run.result;
    outcome.shape = run.result && !failed ? run.result : passed;
    outcome.findings = std::move(run.findings);
}

}  // namespace

Made Maker::make(const Recipe& recipe, const MakeOptions& options) { return make_within(recipe, options, {}); }

Made Maker::make_within(const Recipe& recipe, const MakeOptions& options, const Within& within) {
    const auto start = Clock::now();
    Made made;
    Graph graph(recipe);
    Resolver resolver(recipe, options.surroundings);
    const std::size_t count = graph.nodes.size();
    std::vector<std::shared_ptr<StepOutcome>> outcomes(count);
    std::vector<std::shared_ptr<const StepOutcome>> settled(count);
    std::atomic<std::size_t> ran = 0;

    struct Job {
        int node;
        const StepInfo* info;
        StepRun run;
        std::shared_ptr<StepOutcome> outcome;
    };
    // Formulas are worked out on this thread, one wave of ready steps at a time; the steps of a wave run in parallel.
    std::vector<int> ready;
    for (std::size_t n = 0; n < count; ++n)
        if (graph.nodes[n].waiting == 0) ready.push_back(static_cast<int>(n));
    while (!ready.empty()) {
        if (options.stop && *options.stop) break;
        std::vector<Job> jobs;
        for (const int n : ready) {
            const Node& node = graph.nodes[n];
            const Part& part = *recipe.parts[node.part];
            const Step& step = *part.steps[node.step];
            auto outcome = std::make_shared<StepOutcome>();
            outcome->shape = nothing();
            Job job{n, find_step_info(step.type), {}, outcome};
            job.run.id = step.id;
            job.run.for_export = options.for_export;
            job.run.stop = options.stop;
            job.run.findings = node.link_findings;
            job.run.raise_bounds = recipe.raise_bounds;
            Digest digest;
            digest.add(std::string_view(step.type));
            digest.add(options.for_export);
            digest.add(step.skipped);
            for (const auto& [input, source] : node.sources) {
                job.run.inputs[input] = settled[source]->shape;
                digest.add(std::string_view(input));
                digest.add(settled[source]->hash);
            }
            const ShapePtr passed = job.run.input_pointer("shape");
            if (passed) outcome->shape = passed;
            if (recipe.raise_bounds != 1) digest.add(recipe.raise_bounds);
            const std::uint64_t inputs_hash = digest.hash();
            if (job.info && job.info->given) {
                job.run.inputs = within.given;
                digest.add(within.given_hash);
            }
            if (!job.info) {
                const auto like = nearest_step(step.type);
                job.run.find(Severity::error, "unknown-type",
                             fmt::format("Bricol knows no step “{}” (/parts/{}/steps/{}/step).{}", step.type, node.part,
                                         node.step, like.empty() ? "" : fmt::format(" Did you mean “{}”?", like)));
                outcome->failed = true;
            } else {
                job.run.values = resolver.parameters(part, step, *job.info, job.run.findings);
                for (const auto& [key, value] : job.run.values) {
                    digest.add(std::string_view(key));
                    digest.add(value);
                    const ParameterInfo* p = job.info->parameter(key);
                    if (p && p->kind == ParameterKind::file &&
                        options.read_file) {  // the result depends on what the file holds
                        const auto text = options.read_file(std::get<std::string>(value), options.folder);
                        digest.add(text ? std::string_view(**text) : std::string_view(text.problem().text()));
                        job.run.read = [&options](const std::string& name) {
                            return options.read_file(name, options.folder);
                        };
                    }
                    if (!p || p->kind != ParameterKind::kit || !options.find_kit) continue;
                    // What lies inside may look at the frame and at its own kits.
                    digest.add(options.surroundings.frame), digest.add(options.surroundings.seed);
                    std::map<std::uint64_t, std::uint64_t> known;
                    if (const auto kit = options.find_kit(std::get<Json>(value), options.folder))
                        digest.add(content_of_kit(*kit, options, known));
                    else
                        digest.add(std::string_view(kit.problem().text()));
                    Within around = within;
                    around.given = job.run.inputs;
                    around.given_hash = inputs_hash;
                    job.run.inner = [this, &options, around](const Json& written, const std::string& part_name,
                                                             const Json& dials) {
                        return make_inner(written, part_name, dials, options, around);
                    };
                }
            }
            for (const Finding& finding : job.run.findings) digest.add(std::string_view(finding.text));
            outcome->hash = digest.hash();
            outcome->values = job.run.values;
            if (step.skipped || !job.info) {
                if (!step.skipped) outcome->findings = std::move(job.run.findings);
                settled[n] = outcome;
                continue;
            }
            if (auto known = recall(outcome->hash)) {
                if (known->kept) {
                    settled[n] = known;
                } else {
                    auto copy = std::make_shared<StepOutcome>(*known);
                    copy->kept = true;
                    settled[n] = std::move(copy);
                }
                ++made.kept;
                continue;
            }
            jobs.push_back(std::move(job));
        }
        const auto work = [&](std::size_t j) {
            Job& job = jobs[j];
            if (options.stop && *options.stop) return;
            const auto begun = Clock::now();
            run_step(*job.info, job.run, *job.outcome);
            job.outcome->milliseconds = since(begun);
            const std::size_t done = ++ran;
            if (options.progress)
                options.progress(static_cast<double>(done) / static_cast<double>(count), std::string(job.info->name));
        };
        if (jobs.size() == 1)
            work(0);
        else if (!jobs.empty())
            tbb::parallel_for(std::size_t(0), jobs.size(), work);
        if (options.stop && *options.stop) break;  // half-made shapes are not kept
        for (Job& job : jobs) {
            settled[job.node] = job.outcome;
            keep(job.outcome);
        }
        std::vector<int> next;
        for (const int n : ready)
            for (const int follower : graph.nodes[n].followers)
                if (--graph.nodes[follower].waiting == 0) next.push_back(follower);
        std::ranges::sort(next);
        ready = std::move(next);
    }
    made.stopped = options.stop && *options.stop;
    made.made = ran;

    made.steps.resize(recipe.parts.size());
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        for (std::size_t s = 0; s < part.steps.size(); ++s) {
            auto& outcome = settled[graph.of_step[p][s]];
            if (!outcome && !made.stopped) {  // never became ready: it waits for itself
                auto circular = std::make_shared<StepOutcome>();
                circular->shape = nothing();
                circular->failed = true;
                const std::string circle = circle_through(part, part.steps[s]->id);
                circular->findings.push_back({Severity::error,
                                              "circle",
                                              circle.empty()
                                                  ? "This step waits for one that is linked in a circle."
                                                  : "These steps feed one another in a circle: " + circle + ".",
                                              {},
                                              {}});
                outcome = circular;
            }
            made.steps[p].push_back(outcome);
        }
        const int result = graph.result_of(recipe, part.name);
        const StepOutcome* finished = result >= 0 ? settled[result].get() : nullptr;
        if (made.stopped && !finished && result >= 0) {
            made.parts.push_back(nullptr);
            continue;
        }
        if (within.depth == 0) made.parts.push_back(finish_part(recipe, part, finished, options.thorough));
    }
    made.milliseconds = since(start);
    return made;
}

Result<Recipe> with_remedy(const Recipe& recipe, const std::string& part, const std::string& step,
                           const Remedy& remedy) {
    Recipe out = recipe;
    // Elements are taken away from the back, so that the numbers of the others still hold.
    std::vector<const Remedy::Change*> order;
    for (const auto& change : remedy.changes) order.push_back(&change);
    std::ranges::stable_sort(order, [](const auto* a, const auto* b) {
        if (a->remove != b->remove) return b->remove;
        return a->remove && (a->path.size() != b->path.size() ? a->path.size() > b->path.size() : a->path > b->path);
    });
    for (const auto* change : order) {
        const std::string& id = change->step.empty() ? step : change->step;
        if (!change->remove) {
            auto edited = set_setting(out, part, id, change->path, change->value);
            if (!edited) return edited;
            out = std::move(*edited);
            continue;
        }
        const Part* holder = out.part(part);
        const Step* old = holder ? find_step(*holder, id) : nullptr;
        const Json::json_pointer pointer(change->path);
        if (!old || !old->settings.contains(pointer))
            return Problem{"What this would change is gone.", change->path, ""};
        Step changed = *old;
        Json& list = changed.settings[pointer.parent_pointer()];
        if (list.is_array()) list.erase(std::stoul(pointer.back()));
        auto edited = replace_step(out, part, changed);
        if (!edited) return edited;
        out = std::move(*edited);
    }
    if (remedy.insert_after) return insert_step(out, part, step, *remedy.insert_after);
    return out;
}

}  // namespace bricol
