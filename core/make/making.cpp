// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/making.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

#include "core/catalogue/kind.h"
#include "core/ground/progress.h"
#include "core/shape/draft.h"
#include "core/ground/stop_arena.h"
#include "core/make/inner_kits.h"
#include "core/make/overlap_findings.h"
#include "core/make/run_step.h"
#include "core/make/stage.h"
#include "core/make/unused_settings.h"
#include "core/recipe/edit.h"
#include "core/ground/parallel.h"

namespace bricol {

double since(Clock::time_point start) {
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

Maker::Maker(std::size_t memory_bound) : memory_(memory_bound), arena_(std::make_unique<StopArena>()) {}
Maker::~Maker() = default;

Made Maker::make(const Recipe& recipe, const MakeOptions& options) {
    const Within outermost;
    Made made;
    arena_->run(options.stop, [&] { made = Making(memory_, recipe, options, outermost).run(); });
    return made;
}

Making::Making(ResultMemory& memory, const Recipe& recipe, const MakeOptions& options, const Within& within)
    : memory_(memory),
      recipe_(recipe),
      options_(options),
      within_(within),
      graph_(recipe),
      resolver_(recipe, options.environment.surroundings,
                [this](const Part& part, const Step& step, std::string_view path) { return ask(part, step, path); }),
      settled_(graph_.nodes.size()) {}

Made Making::run() {
    const auto start = Clock::now();
    Made made;
    try {
        make_all();
    } catch (const Stopped&) {  // what was done is kept
    }
    made.made = ran_;
    made.kept = kept_;
    try {
        gather(made);
    } catch (const Stopped&) {
        made.parts.resize(recipe_.parts.size());
    }
    made.stopped = stopped();
    made.milliseconds = since(start);
    return made;
}

void Making::make_all() {
    // Formulas are worked out on this thread, one wave of ready steps at a time; the steps of a wave run in parallel.
    std::vector<int> ready;
    for (std::size_t n = 0; n < graph_.nodes.size(); ++n)
        if (graph_.nodes[n].waiting == 0) ready.push_back(static_cast<int>(n));
    while (!ready.empty()) {
        std::vector<Job> jobs;
        for (const int n : ready) prepare(n, jobs);
        // A stop of one job does not end the others' before their time: what they have done by then is kept.
        parallel::each(std::size_t(0), jobs.size(), [&](std::size_t j) {
            try {
                work(jobs[j]);
            } catch (const Stopped&) {
            }
        });
        settle(jobs);
        if (!std::ranges::all_of(jobs, &Job::done)) throw Stopped{};
        ready = after(ready);
    }
}

void Making::settle(const std::vector<Job>& jobs) {
    for (const Job& job : jobs) {
        if (!job.done) continue;  // stopped on its way
        settled_[static_cast<std::size_t>(job.node)] = job.outcome;
        memory_.keep(job.outcome);
    }
}

Result<double> Making::ask(const Part& part, const Step& step, std::string_view path) const {
    for (std::size_t p = 0; p < recipe_.parts.size(); ++p) {
        if (recipe_.parts[p].get() != &part) continue;
        const std::size_t s = step_index(part, step.id);
        const auto& outcome = settled_[static_cast<std::size_t>(graph_.of_step[p][s])];
        if (outcome) return outcome->numbers->at(path);
    }
    return Problem{"It is not made yet.", "", ""};
}

void Making::prepare(int n, std::vector<Job>& jobs) {
    const Node& node = graph_.nodes[static_cast<std::size_t>(n)];
    const Step& step = *recipe_.parts[node.part]->steps[node.step];
    auto outcome = std::make_shared<StepOutcome>();
    outcome->shape = empty_shape();
    const StepInfo* info = find_step_info(step.type);
    Job job{n, info, StepRun(info), outcome};
    job.run.id = step.id;
    job.run.for_export = options_.for_export;
    job.run.findings = node.link_findings;
    job.run.raise_bounds = recipe_.raise_bounds;
    Digest digest;
    digest.add(std::string_view(step.type));
    digest.add(options_.for_export);
    digest.add(step.skipped);
    digest.add(recipe_.raise_bounds);
    for (const auto& [input, source] : node.sources) {
        const StepOutcome& from = *settled_[static_cast<std::size_t>(source)];
        job.run.inputs[input] = from.shape;
        digest.add(std::string_view(input));
        digest.add(from.hash);
    }
    if (const ShapePtr passed = job.run.input_pointer("shape")) outcome->shape = passed;
    const std::uint64_t inputs_hash = digest.hash();
    if (job.info) {
        read_settings(node, step, job, inputs_hash, digest);
    } else {
        const auto like = nearest_step(step.type);
        job.run.tell(Severity::error, "unknown-type",
                     fmt::format("Bricol knows no step “{}” (/parts/{}/steps/{}/step).{}", step.type, node.part,
                                 node.step, like.empty() ? "" : fmt::format(" Did you mean “{}”?", like)));
        outcome->failed = true;
    }
    for (const Finding& finding : job.run.findings) digest.add(std::string_view(finding.text));
    outcome->hash = digest.hash();
    outcome->values = job.run.values;
    auto& settled = settled_[static_cast<std::size_t>(n)];
    if (step.skipped || !job.info) {
        outcome->numbers = std::make_shared<MadeNumbers>(outcome->shape);
        if (!step.skipped) outcome->findings = std::move(job.run.findings);
        settled = outcome;
    } else if (auto known = memory_.recall(outcome->hash)) {
        if (known->kept) {
            settled = known;
        } else {
            auto copy = std::make_shared<StepOutcome>(*known);
            copy->kept = true;
            settled = std::move(copy);
        }
        ++kept_;
    } else {
        jobs.push_back(std::move(job));
    }
}

void Making::read_settings(const Node& node, const Step& step, Job& job, std::uint64_t inputs_hash, Digest& digest) {
    if (job.info->given) {
        job.run.inputs = within_.given;
        digest.add(within_.given_hash);
    }
    const Environment& around = options_.environment;
    job.run.values = resolver_.parameters(*recipe_.parts[node.part], step, *job.info, job.run.findings);
    look_for_unused(*job.info, step, job.run.values, job.run.findings);
    for (const ParameterInfo& p : job.info->parameters) {
        const Value& value = job.run.values.find(p.key)->second;
        digest.add(p.key);
        kind_info(p).digest(value, digest);
        if (p.kind == ParameterKind::file && around.read_file) {  // the result depends on what the file holds
            const auto text = around.read_file(std::get<std::string>(value), around.folder);
            digest.add(text ? std::string_view(**text) : std::string_view(text.problem().text()));
            if (around.read_beside)
                digest.add(std::string_view(around.read_beside(std::get<std::string>(value), around.folder)));
            job.run.read = [&around](const std::string& name) { return around.read_file(name, around.folder); };
            if (around.read_shape)
                job.run.read_shape = [&around](const std::string& name) {
                    return around.read_shape(name, around.folder);
                };
        }
        if (p.kind != ParameterKind::kit || !around.find_kit) continue;
        // What lies inside may look at the frame and at its own kits.
        digest.add(around.surroundings.frame), digest.add(around.surroundings.seed);
        const double recipes = add_kit(std::get<KitWritten>(value), around, digest);
        if (job.run.too_many(recipes, most_inner_recipes, "recipes inside one another", "Use fewer kits inside kits."))
            continue;
        Within inside = within_;
        inside.given = job.run.inputs;
        inside.given_hash = inputs_hash;
        job.run.inner = [this, inside](const InnerWanted& wanted) { return make_inner(wanted, inside); };
    }
}

void Making::work(Job& job) {
    stop_point();
    const auto begun = Clock::now();
    tell_progress(job.node, -1);
    {
        const ProgressScope listening([&](double share) { tell_progress(job.node, share); });
        const DraftScope looking(options_.draft ? [&](ShapePtr shape) { tell_draft(job.node, std::move(shape)); }
                                                : std::function<void(ShapePtr)>());
        job.outcome->shape = run_step(*job.info, job.run, job.outcome->failed);
        job.outcome->numbers = std::make_shared<MadeNumbers>(job.outcome->shape);
    }
    job.outcome->findings = std::move(job.run.findings);
    job.outcome->stage = std::move(job.run.stage);
    job.outcome->milliseconds = since(begun);
    job.done = true;
    ++ran_;
    tell_progress(job.node, 1, true);
}

void Making::tell_draft(int node, ShapePtr shape) {
    const Node& at = graph_.nodes[static_cast<std::size_t>(node)];
    const Part& part = *recipe_.parts[at.part];
    options_.draft({part.name, part.steps[at.step]->id, std::move(shape)});
}

void Making::tell_progress(int node, double of_step, bool over) {
    if (!options_.progress) return;
    const std::scoped_lock lock(progress_mutex_);
    const auto at = std::ranges::find(at_work_, node, &AtWork::node);
    if (over && at != at_work_.end())
        at_work_.erase(at);
    else if (at == at_work_.end())
        at_work_.push_back({node, of_step});
    else
        at->of_step = of_step;
    MakeProgress told;
    double done = static_cast<double>(ran_ + kept_);
    for (const AtWork& work : at_work_) done += std::max(0.0, work.of_step);
    told.share = std::min(1.0, done / static_cast<double>(graph_.nodes.size()));
    if (!at_work_.empty()) {
        const Node& first = graph_.nodes[static_cast<std::size_t>(at_work_.front().node)];
        const Step& step = *recipe_.parts[first.part]->steps[first.step];
        const StepInfo* info = find_step_info(step.type);
        told.part = recipe_.parts[first.part]->name;
        told.step = step.id;
        told.what = !step.title.empty() ? step.title : info ? std::string(info->name) : step.type;
        told.of_step = at_work_.front().of_step;
    }
    options_.progress(told);
}

std::vector<int> Making::after(const std::vector<int>& ready) {
    std::vector<int> next;
    for (const int n : ready)
        for (const int follower : graph_.nodes[static_cast<std::size_t>(n)].followers)
            if (--graph_.nodes[static_cast<std::size_t>(follower)].waiting == 0) next.push_back(follower);
    std::ranges::sort(next);
    return next;
}

std::string Making::circle_of(int node) {
    if (circles_.empty()) {
        // Each step that never became ready has a source that did not either: following one of each leads into circles.
        std::vector<int> waits_for(graph_.nodes.size(), -1), path;
        for (std::size_t n = 0; n < graph_.nodes.size(); ++n)
            graph_.nodes[n].each_before([&](int source) {
                if (!settled_[n] && !settled_[static_cast<std::size_t>(source)]) waits_for[n] = source;
            });
        std::vector<int> seen_in(graph_.nodes.size(), -1);
        circles_.resize(graph_.nodes.size());
        const auto id = [&](int n) {
            const Node& at = graph_.nodes[static_cast<std::size_t>(n)];
            return recipe_.parts[at.part]->name + "." + recipe_.parts[at.part]->steps[at.step]->id;
        };
        for (int start = 0; start < static_cast<int>(graph_.nodes.size()); ++start) {
            path.clear();
            int n = start;
            for (; n >= 0 && seen_in[static_cast<std::size_t>(n)] < 0; n = waits_for[static_cast<std::size_t>(n)]) {
                seen_in[static_cast<std::size_t>(n)] = start;
                path.push_back(n);
            }
            if (n < 0 || seen_in[static_cast<std::size_t>(n)] != start) continue;
            const auto first = std::ranges::find(path, n);
            std::string circle;
            for (auto at = first; at != path.end(); ++at) {
                if (circle.size() > 400) {
                    circle += "… ← ";
                    break;
                }
                circle += id(*at) + " ← ";
            }
            circle += id(n);
            for (auto at = first; at != path.end(); ++at) circles_[static_cast<std::size_t>(*at)] = circle;
        }
    }
    const std::string& circle = circles_[static_cast<std::size_t>(node)];
    return circle.empty() ? "This step waits for one that is linked in a circle."
                          : "These steps feed one another in a circle: " + circle + ".";
}

/// Edge weights that no step behind them reads: a crease without a subdivision, a share without a bevel.
std::vector<Finding> Making::unread_weights() const {
    std::vector<Finding> findings;
    for (std::size_t n = 0; n < graph_.nodes.size(); ++n) {
        const Part& part = *recipe_.parts[graph_.nodes[n].part];
        const Step& step = *part.steps[graph_.nodes[n].step];
        const StepInfo* info = find_step_info(step.type);
        if (!info || info->weighs.empty() || step.skipped || !settled_[n] || settled_[n]->failed) continue;
        const std::string& weight = std::get<std::string>(settled_[n]->values.find(info->weighs)->second);
        const auto reads = [&](const StepInfo* other) {
            return other && (std::ranges::find(other->reads, weight) != other->reads.end() ||
                             std::ranges::any_of(other->parameters, [](const ParameterInfo& p) {
                                 return p.kind == ParameterKind::kit;  // who knows what lies inside
                             }));
        };
        bool read = false;
        std::vector<int> open{static_cast<int>(n)};
        std::vector<std::uint8_t> seen(graph_.nodes.size(), 0);
        while (!open.empty() && !read) {
            const Node& at = graph_.nodes[static_cast<std::size_t>(open.back())];
            open.pop_back();
            for (const int follower : at.followers) {
                const Node& next = graph_.nodes[static_cast<std::size_t>(follower)];
                read = read || reads(find_step_info(recipe_.parts[next.part]->steps[next.step]->type));
                if (!std::exchange(seen[static_cast<std::size_t>(follower)], 1)) open.push_back(follower);
            }
        }
        if (!read)
            findings.push_back(
                {Severity::note,
                 "unread-weight",
                 fmt::format("“{}” in “{}” weighs edges for “{}”, but no step behind it reads that, so it "
                             "does nothing yet.",
                             step.id, part.name, weight),
                 {},
                 {}});
    }
    return findings;
}

void Making::gather(Made& made) {
    made.steps.resize(recipe_.parts.size());
    if (within_.depth == 0) {
        made.findings = unknown_keys(recipe_);
        for (Finding& finding : dial_findings(recipe_)) made.findings.push_back(std::move(finding));
        for (Finding& finding : unread_weights()) made.findings.push_back(std::move(finding));
    }
    for (std::size_t p = 0; p < recipe_.parts.size(); ++p) {
        const Part& part = *recipe_.parts[p];
        for (std::size_t s = 0; s < part.steps.size(); ++s) {
            auto& outcome = settled_[static_cast<std::size_t>(graph_.of_step[p][s])];
            if (!outcome && !stopped()) {  // never became ready: it waits for itself
                auto circular = std::make_shared<StepOutcome>();
                circular->shape = empty_shape();
                circular->failed = true;
                circular->findings.push_back({Severity::error, "circle", circle_of(graph_.of_step[p][s]), {}, {}});
                outcome = circular;
            }
            made.steps[p].push_back(outcome);
        }
        const int result = graph_.result_of(recipe_, part.name);
        const StepOutcome* finished = result >= 0 ? settled_[static_cast<std::size_t>(result)].get() : nullptr;
        if (stopped() && !finished && result >= 0)
            made.parts.push_back(nullptr);
        else if (within_.depth == 0)
            made.parts.push_back(finished_part(memory_, recipe_, part, finished, options_.thorough));
    }
    if (within_.depth == 0 && !stopped()) {
        for (Finding& finding : stage_findings(recipe_, made, options_.thorough))
            made.findings.push_back(std::move(finding));
        for (Finding& finding : dark_kits(recipe_, options_.environment)) made.findings.push_back(std::move(finding));
    }
    if (within_.depth == 0 && options_.thorough && !stopped())
        for (Finding& finding : parts_in_one_another(recipe_, made)) made.findings.push_back(std::move(finding));
}

}  // namespace bricol
