// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/settle.h"

#include <LinearMath/btConvexHullComputer.h>
#include <algorithm>
#include <array>
#include <btBulletDynamicsCommon.h>
#include <cmath>
#include <mutex>
#include <random>
#include <string>
#include <unordered_map>

#include "core/ground/parallel.h"
#include "core/ground/progress.h"
#include "core/ground/stop.h"
#include "core/kernels/settle_corners.h"
#include "core/kernels/settle_forms.h"
#include "core/shape/draft.h"

namespace bricol {

using namespace bodies;

namespace {

constexpr double gravity = 9.80665;  // standard gravity, ISO 80000-3
/// Skin of convex forms, in sizes of the middle body: the forms are shrunk by as much, so that surfaces meet where
/// they are.
constexpr float skin = 0.04;
/// What counts as lying, as a share of the speed a body has after falling by its own size.
constexpr double at_rest = 0.06;
/// For so long a body must be slow before it lies (seconds).
constexpr double slow_before_rest = 0.25;

/// A convex part in sizes, rounded so that alike ones are found, and what to find them by.
struct Part {
    std::vector<btVector3> corners;
    std::string key;
};

Part part_of(const std::vector<btVector3>& corners, double scale) {
    // Finer than this single precision does not tell corners apart.
    constexpr double grid = 1 << 22;
    Part out;
    for (const btVector3& p : corners) {
        btVector3 at(0, 0, 0);
        for (int k = 0; k < 3; ++k) at[k] = number(std::round(p[k] * scale * grid) / grid);
        out.key.append(reinterpret_cast<const char*>(&at[0]), 3 * sizeof(btScalar));
        out.corners.push_back(at);
    }
    return out;
}

/// Shrunk by its skin; what is too thin for that stays as it is.
std::unique_ptr<btCollisionShape> shrunk(const std::vector<btVector3>& corners) {
    btConvexHullComputer hull;
    const double by =
        hull.compute(corners[0].m_floats, sizeof(btVector3), static_cast<int>(corners.size()), skin, 0.4f);
    if (by > 0 && hull.vertices.size() >= 4)
        return std::make_unique<Corners>(&hull.vertices[0], static_cast<std::size_t>(hull.vertices.size()), by, &hull);
    return std::make_unique<Corners>(corners.data(), corners.size(), skin / 10);
}

/// Looks at pairs of convex bodies on all threads. A pair that was looked at before touches nothing but its own contact
/// points; new ones, which take memory that all share, go first, in their order.
class Dispatcher final : public btCollisionDispatcher {
public:
    using btCollisionDispatcher::btCollisionDispatcher;
    void dispatchAllCollisionPairs(btOverlappingPairCache* near, const btDispatcherInfo& info, btDispatcher*) override {
        btBroadphasePair* pairs = near->getOverlappingPairArrayPtr();
        const auto look = getNearCallback();
        known_.clear();
        for (int i = 0; i < near->getNumOverlappingPairs(); ++i)
            if (pairs[i].m_algorithm && both_convex(pairs[i]))
                known_.push_back(&pairs[i]);
            else
                look(pairs[i], *this, info);
        ++step_;
        parallel::each(parallel::Numbers<std::size_t>(0, known_.size(), 64), [&](const auto& range) {
            for (std::size_t i = range.begin(); i < range.end(); ++i)
                if (!only_followed(*known_[i], info.m_timeStep)) look(*known_[i], *this, info);
        });
    }

private:
    static bool both_convex(const btBroadphasePair& pair) {
        const auto convex = [](const btBroadphaseProxy* proxy) {
            return static_cast<const btCollisionObject*>(proxy->m_clientObject)->getCollisionShape()->isConvex();
        };
        return convex(pair.m_pProxy0) && convex(pair.m_pProxy1);
    }
    /// Two that hardly move against one another keep the contact points they have, which follow them, for three steps
    /// of four.
    bool only_followed(const btBroadphasePair& pair, btScalar time) const {
        const auto* a = static_cast<const btCollisionObject*>(pair.m_pProxy0->m_clientObject);
        const auto* b = static_cast<const btCollisionObject*>(pair.m_pProxy1->m_clientObject);
        if ((step_ + static_cast<std::size_t>(a->getUserIndex()) + 3 * static_cast<std::size_t>(b->getUserIndex())) %
                4 ==
            0)
            return false;
        const auto *first = btRigidBody::upcast(a), *second = btRigidBody::upcast(b);
        const btScalar speed = (first->getLinearVelocity() - second->getLinearVelocity()).length() +
                               first->getAngularVelocity().length() + second->getAngularVelocity().length();
        if (speed * time > 0.005f) return false;
        btManifoldArray touches;
        pair.m_algorithm->getAllContactManifolds(touches);
        for (int m = 0; m < touches.size(); ++m) {
            btPersistentManifold& touch = *touches[m];
            touch.refreshContactPoints(touch.getBody0()->getWorldTransform(), touch.getBody1()->getWorldTransform());
        }
        return true;
    }

    std::vector<btBroadphasePair*> known_;
    std::size_t step_ = 0;
};

/// What stands keeps the box it had in the first step: Bullet's own works out everybody's in every step. The box is
/// handed on all the same, since the order in which bodies are seen to be near follows from it.
class World final : public btDiscreteDynamicsWorld {
public:
    using btDiscreteDynamicsWorld::btDiscreteDynamicsWorld;
    void updateAabbs() override {
        for (int i = 0; i < m_collisionObjects.size(); ++i) {
            btCollisionObject& body = *m_collisionObjects[i];
            btBroadphaseProxy* box = body.getBroadphaseHandle();
            if (first_ || !body.isStaticObject())
                updateSingleAabb(&body);
            else
                m_broadphasePairCache->setAabb(box, box->m_aabbMin, box->m_aabbMax, m_dispatcher1);
        }
        first_ = false;
    }

private:
    bool first_ = true;
};

/// Everything Bullet needs, alive until the end.
class Room {
public:
    Room(std::span<const SettleBody> bodies, const SettleStill& still, const SettleOptions& options)
        : bodies_(bodies), options_(options), dispatcher_(&rules_), world_(&dispatcher_, &near_, &solver_, &rules_) {
        forms_ = forms_of(bodies);
        measure();
        world_.setGravity(vector({0, 0, -gravity * scale_}));
        auto& solving = world_.getSolverInfo();
        solving.m_splitImpulse = 1;
        solving.m_splitImpulsePenetrationThreshold = -0.002f;  // its own 0.04 lets heaps sink into themselves
        solving.m_erp2 = 0.4f;
        solving.m_numIterations = options.linked ? 150 : 12;
        add_still(still);
        make_convex(forms_);
        for (std::size_t i = 0; i < bodies.size(); ++i) add_body(i);
        if (options.linked) tie();
        stir();
    }
    ~Room() {
        for (auto& tied : ties_) world_.removeConstraint(tied.get());
        for (auto& body : moving_) world_.removeRigidBody(body.get());
        for (auto& body : standing_) world_.removeRigidBody(body.get());
    }
    Room(const Room&) = delete;
    Room& operator=(const Room&) = delete;

    Settled run() {
        Settled out;
        count_crossings(out);
        // Rows stretch and bounces fade with long steps.
        const double finer = options_.linked || options_.bounce > 0 ? 80 : 20;
        const double longest = std::clamp(std::sqrt(size_ / gravity) / finer, 1.0 / 2000, 1.0 / 60);
        const auto steps = static_cast<std::size_t>(std::ceil(options_.seconds / longest));
        const double step = options_.seconds / static_cast<double>(std::max<std::size_t>(1, steps));
        start_half_a_step_back(step);
        double quiet = 0;  // seconds for which nothing moved
        for (std::size_t n = 0; n < steps; ++n) {
            stop_point();
            world_.stepSimulation(number(step), 0);
            out.seconds = static_cast<double>(n + 1) * step;
            if (n % 16 == 15) progress_of_work(static_cast<double>(n) / static_cast<double>(steps));
            if (n % 8 == 7 && out.seconds > longest_untouched) calm(out.seconds / options_.seconds);
            if (n % 16 == 15 && everything_lies()) break;
            if (n % 8 == 7) quiet = count_moving() == 0 ? quiet + 8 * step : 0;
            // In a heap some stone always stirs a little and keeps all that it touches awake. Rows hang still for a
            // moment where they turn round.
            if (quiet > slow_before_rest && out.seconds > longest_untouched && !options_.linked) break;
            if (n % 4 == 3 && options_.watch && draft_wanted()) {
                Settled so_far;
                gather(so_far);
                options_.watch(so_far);
            }
        }
        out.moving = count_moving();
        if (out.seconds > longest_untouched || everything_lies()) relieve(step);
        gather(out);
        return out;
    }

private:
    /// Within this time nothing but mechanics acts (seconds); later what barely moves is helped to rest.
    static constexpr double longest_untouched = 1.5;

    /// Under their full weight bodies press a little into one another, and rows stretch. A twentieth of it gives that
    /// back and changes nothing of how they lie. A heap in which nothing presses any more has it back.
    void relieve(double step) {
        world_.setGravity(vector({0, 0, -gravity * scale_ / 20}));
        for (auto& body : moving_) {
            body->setGravity(world_.getGravity());
            body->setDamping(0.99f, 0.99f);
            if (body->getInvMass() > 0) body->activate(true);
        }
        for (int n = 0; n < 60; ++n) {
            stop_point();
            world_.stepSimulation(number(step), 0);
            if (n % 10 == 9 && !options_.linked && deepest() < 0.001f) break;
        }
    }
    /// How deep bodies press into one another at most, in sizes.
    btScalar deepest() {
        btScalar deep = 0;
        each_touch(
            [&](const btPersistentManifold&, const btManifoldPoint& at) { deep = std::max(deep, -at.getDistance()); });
        return deep;
    }
    template <class F>
    void each_touch(const F& f) {
        for (int m = 0; m < dispatcher_.getNumManifolds(); ++m) {
            const btPersistentManifold& touch = *dispatcher_.getManifoldByIndexInternal(m);
            for (int p = 0; p < touch.getNumContacts(); ++p) f(touch, touch.getContactPoint(p));
        }
    }

    std::size_t count_moving() const {
        const double rest = 2 * at_rest * std::sqrt(gravity * scale_);
        return static_cast<std::size_t>(std::ranges::count_if(moving_, [&](const auto& body) {
            return body->getInvMass() > 0 && body->isActive() && !fell(*body) &&
                   (body->getLinearVelocity().length() > rest || body->getAngularVelocity().length() > rest);
        }));
    }

    void measure() {
        std::vector<double> sizes;
        for (const Form& form : forms_)
            if (form.radius > 0) sizes.push_back(2 * form.radius);
        if (sizes.empty()) sizes.push_back(1);
        std::ranges::nth_element(sizes, sizes.begin() + static_cast<std::ptrdiff_t>(sizes.size() / 2));
        size_ = sizes[sizes.size() / 2];
        scale_ = 1 / size_;
        lowest_ = options_.ground.value_or(0);
        for (const Form& form : forms_) lowest_ = std::min(lowest_, form.middle.z - form.radius);
    }

    void add_still(const SettleStill& still) {
        if (options_.ground) {
            shapes_.push_back(
                std::make_unique<btStaticPlaneShape>(btVector3(0, 0, 1), number(*options_.ground * scale_)));
            stand(*shapes_.back());
        }
        const std::vector<Form> forms = forms_of(still.bodies);
        make_convex(forms);
        for (const Form& form : forms) {
            stop_point();
            stand(whole(form), vector(form.middle * scale_));
            lowest_ = std::min(lowest_, form.middle.z - form.radius);
        }
        if (still.triangles.empty()) return;
        for (const Vec3& p : still.points) {
            points_.push_back(vector(DVec3(p) * scale_));
            lowest_ = std::min(lowest_, static_cast<double>(p.z));
        }
        corners_.assign(still.triangles.begin(), still.triangles.end());
        triangles_ = std::make_unique<btTriangleIndexVertexArray>(
            static_cast<int>(corners_.size() / 3), corners_.data(), static_cast<int>(3 * sizeof(int)),
            static_cast<int>(points_.size()), points_[0].m_floats, static_cast<int>(sizeof(btVector3)));
        auto shape = std::make_unique<btBvhTriangleMeshShape>(triangles_.get(), true);
        shape->setMargin(0);
        shapes_.push_back(std::move(shape));
        stand(*shapes_.back());
    }

    void stand(btCollisionShape& shape, const btVector3& at = btVector3(0, 0, 0)) {
        btRigidBody::btRigidBodyConstructionInfo info(0, nullptr, &shape, btVector3(0, 0, 0));
        info.m_startWorldTransform = btTransform(btQuaternion::getIdentity(), at);
        standing_.push_back(std::make_unique<btRigidBody>(info));
        surface(*standing_.back());
        world_.addRigidBody(standing_.back().get());
    }

    /// Two coefficients are multiplied where surfaces meet: the root of each gives back the one that was asked for.
    void surface(btRigidBody& body) const {
        body.setFriction(number(std::sqrt(options_.friction)));
        body.setRestitution(number(std::sqrt(options_.bounce)));
        body.setRollingFriction(0.05);
        body.setSpinningFriction(0.05);
    }

    /// Makes the convex parts of forms. Alike ones, as copies that only stand elsewhere are, are one: it stays near the
    /// processor while they all ask it.
    void make_convex(std::span<const Form> forms) {
        std::vector<Part> fresh;
        for (const Form& form : forms)
            for (const auto& corners : form.parts) {
                Part part = part_of(corners, scale_);
                if (alike_.try_emplace(part.key, nullptr).second) fresh.push_back(std::move(part));
            }
        const std::size_t first = shapes_.size();
        shapes_.resize(first + fresh.size());
        parallel::each(std::size_t(0), fresh.size(), [&](std::size_t i) {
            stop_point();
            shapes_[first + i] = shrunk(fresh[i].corners);
        });
        for (std::size_t i = 0; i < fresh.size(); ++i) alike_[fresh[i].key] = shapes_[first + i].get();
    }
    btCollisionShape* convex(const std::vector<btVector3>& corners) const {
        return alike_.at(part_of(corners, scale_).key);
    }

    btCollisionShape& whole(const Form& form) {
        if (form.parts.size() == 1) return *convex(form.parts[0]);
        auto compound = std::make_unique<btCompoundShape>();
        for (const auto& part : form.parts) compound->addChildShape(btTransform::getIdentity(), convex(part));
        shapes_.push_back(std::move(compound));
        return *shapes_.back();
    }

    void add_body(std::size_t i) {
        stop_point();
        const Form& form = forms_[i];
        btCollisionShape& shape = whole(form);
        const double volume = std::max(form.volume * scale_ * scale_ * scale_, 1e-6);
        const double mass = bodies_[i].held ? 0 : volume;
        btVector3 inertia(0, 0, 0);
        if (mass > 0 && !form.parts.empty()) shape.calculateLocalInertia(number(mass), inertia);
        btRigidBody::btRigidBodyConstructionInfo info(number(mass), nullptr, &shape, inertia);
        info.m_startWorldTransform = btTransform(btQuaternion::getIdentity(), vector(form.middle * scale_));
        info.m_linearDamping = info.m_angularDamping = number(std::clamp(options_.damping, 0.0, 1.0));
        moving_.push_back(std::make_unique<btRigidBody>(info));
        btRigidBody& body = *moving_.back();
        surface(body);
        const double rest = at_rest * std::sqrt(gravity * scale_);
        body.setSleepingThresholds(number(rest), number(rest));
        if (triangles_) {  // thin sheets are fallen through unless the way in between is looked at
            body.setCcdMotionThreshold(number(0.8 * form.radius * scale_));
            body.setCcdSweptSphereRadius(number(0.2 * form.radius * scale_));
        }
        world_.addRigidBody(&body);
    }

    /// Frames of a joint: x along the row, where both bodies meet.
    static btTransform joint(const DVec3& along, const DVec3& at) {
        const btVector3 x = vector(along);
        btVector3 y = x.cross(std::abs(x.z()) < 0.9f ? btVector3(0, 0, 1) : btVector3(1, 0, 0));
        y.normalize();
        const btVector3 z = x.cross(y);
        return btTransform(btMatrix3x3(x.x(), y.x(), z.x(), x.y(), y.y(), z.y(), x.z(), y.z(), z.z()), vector(at));
    }

    void tie() {
        for (std::size_t i = 0; i + 1 < moving_.size(); ++i) {
            const DVec3 &from = forms_[i].middle, &to = forms_[i + 1].middle, at = (from + to) * 0.5;
            const DVec3 along = glm::distance(from, to) > 0 ? glm::normalize(to - from) : DVec3(1, 0, 0);
            auto tied = std::make_unique<btConeTwistConstraint>(
                *moving_[i], *moving_[i + 1], joint(along, (at - from) * scale_), joint(along, (at - to) * scale_));
            const btScalar bend = number(glm::radians(options_.bend));
            tied->setLimit(bend, bend, number(glm::radians(options_.twist)));
            world_.addConstraint(tied.get(), true);
            ties_.push_back(std::move(tied));
        }
    }

    void stir() {
        if (options_.stir <= 0) return;
        std::mt19937 random(static_cast<unsigned>(options_.seed));
        const auto share = [&] { return static_cast<double>(random()) / 4294967296.0 * 2 - 1; };
        for (auto& body : moving_) {
            const btVector3 way = vector({share(), share(), share()}), spin = vector({share(), share(), share()});
            if (body->getInvMass() == 0) continue;
            body->setLinearVelocity(way * number(options_.stir * scale_));
            body->setAngularVelocity(spin * number(options_.stir * scale_));
        }
    }

    /// Speeds are worked out before places: half a step's fall against the way makes places exact while a body falls.
    void start_half_a_step_back(double step) {
        for (auto& body : moving_)
            if (body->getInvMass() > 0 && !options_.linked)
                body->setLinearVelocity(body->getLinearVelocity() - world_.getGravity() * number(step / 2));
    }

    void count_crossings(Settled& out) {
        world_.performDiscreteCollisionDetection();
        std::vector<std::uint8_t> crossing(moving_.size(), 0);
        for (std::size_t i = 0; i < moving_.size(); ++i) moving_[i]->setUserIndex(static_cast<int>(i));
        for (auto& body : standing_) body->setUserIndex(-1);
        each_touch([&](const btPersistentManifold& touch, const btManifoldPoint& at) {
            if (at.getDistance() < -0.05f)
                for (const btCollisionObject* body : {touch.getBody0(), touch.getBody1()})
                    if (body->getUserIndex() >= 0) crossing[static_cast<std::size_t>(body->getUserIndex())] = 1;
        });
        out.crossing = static_cast<std::size_t>(std::ranges::count(crossing, 1));
    }

    /// What barely moves any more is slowed down besides, the more the longer it lasts (`share` of the time): else one
    /// stone that rocks keeps its whole heap awake.
    void calm(double share) {
        const double slow = 3 * at_rest * (1 + 4 * share * share) * std::sqrt(gravity * scale_);
        const auto usual = number(std::clamp(options_.damping, 0.0, 1.0)), strong = std::max(usual, number(0.95));
        for (auto& body : moving_) {
            if (body->getInvMass() == 0 || !body->isActive()) continue;
            const bool barely = body->getLinearVelocity().length() < slow && body->getAngularVelocity().length() < slow;
            body->setDamping(barely ? strong : usual, barely ? strong : usual);
        }
    }

    bool everything_lies() const {
        return std::ranges::none_of(moving_,
                                    [](const auto& body) { return body->getInvMass() > 0 && body->isActive(); });
    }

    bool fell(const btRigidBody& body) const {
        const btVector3& at = body.getWorldTransform().getOrigin();
        return !std::isfinite(at.z()) || at.z() * size_ < lowest_ - 30 * size_ || at.length() > 1e6;
    }

    void gather(Settled& out) const {
        for (std::size_t i = 0; i < moving_.size(); ++i) {
            const btRigidBody& body = *moving_[i];
            out.fell.push_back(fell(body));
            const btTransform& now = body.getWorldTransform();
            glm::dmat4 moved(1);
            for (int c = 0; c < 3; ++c)
                for (int r = 0; r < 3; ++r) moved[c][r] = now.getBasis()[r][c];
            const DVec3 to = DVec3(now.getOrigin().x(), now.getOrigin().y(), now.getOrigin().z()) * size_;
            moved[3] = glm::dvec4(to - DVec3(glm::dmat3(moved) * forms_[i].middle), 1);
            out.places.push_back(bodies_[i].held ? bodies_[i].place : moved * bodies_[i].place);
        }
    }

    std::span<const SettleBody> bodies_;
    const SettleOptions& options_;
    std::vector<Form> forms_;
    double size_ = 1, scale_ = 1, lowest_ = 0;
    std::vector<btVector3> points_;
    std::vector<int> corners_;
    std::unique_ptr<btTriangleIndexVertexArray> triangles_;
    std::vector<std::unique_ptr<btCollisionShape>> shapes_;
    std::unordered_map<std::string, btCollisionShape*> alike_;  ///< convex parts by their corners
    std::vector<std::unique_ptr<btRigidBody>> standing_, moving_;
    std::vector<std::unique_ptr<btConeTwistConstraint>> ties_;
    btDefaultCollisionConfiguration rules_;
    Dispatcher dispatcher_;
    btDbvtBroadphase near_;
    btSequentialImpulseConstraintSolver solver_;
    World world_;
};

}  // namespace

Settled settled(std::span<const SettleBody> bodies, const SettleStill& still, const SettleOptions& options) {
    // How long a body must be slow before it lies is the same for all of Bullet's worlds.
    static std::mutex one_at_a_time;
    const std::scoped_lock lock(one_at_a_time);
    gDeactivationTime = number(slow_before_rest);
    return Room(bodies, still, options).run();
}

}  // namespace bricol
