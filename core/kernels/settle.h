// SPDX-License-Identifier: GPL-3.0-or-later
// Rigid bodies that come to rest: dropped onto what stands still, or hung in a row.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// A body's form: convex parts, each by corners (metres, in its own coordinates). Parts that lie in one plane have no
/// volume and are left out.
using SettleForm = std::vector<std::vector<Vec3>>;

struct SettleBody {
    std::shared_ptr<const SettleForm> form;
    glm::dmat4 place{1};  ///< any turn and size
    bool held = false;    ///< stays where it is
};

/// What stands still: triangles, three points each (metres), and bodies of convex parts, which cost far less.
struct SettleStill {
    std::vector<Vec3> points;
    std::vector<Index> triangles;
    std::vector<SettleBody> bodies;
};

struct Settled;

struct SettleOptions {
    double friction = 0.5;         ///< coefficient between any two surfaces (Coulomb)
    double bounce = 0;             ///< coefficient of restitution, 0..1
    double damping = 0.3;          ///< share of speed lost in a second
    double seconds = 4;            ///< at most; it ends when everything lies
    std::optional<double> ground;  ///< height of a plane that nothing falls through
    bool linked = false;           ///< each is tied to the next, half way between their middles
    double bend = 70, twist = 30;  ///< degrees by which it may turn there out of how it stands to the next: across and
                                   ///< about the row
    double stir = 0;               ///< speed of the first push, each its own way (m/s)
    int seed = 1;
    std::function<void(const Settled&)> watch;  ///< shown now and then where bodies are, when a draft is wanted
};

struct Settled {
    std::vector<glm::dmat4> places;
    std::vector<std::uint8_t> fell;  ///< past everything there is
    std::size_t moving = 0;          ///< bodies not at rest at the end
    std::size_t crossing = 0;        ///< bodies that began deeper in others than a twentieth of the middle size
    double seconds = 0;              ///< that passed for them
};

/// By Bullet (behind, in settle_bullet.cpp): sequential impulses (E. Catto, "Iterative Dynamics with Temporal
/// Coherence", 2005) in steps of a twentieth of the time in which the middle body falls by its own size, the same
/// on every run and any number of threads. Lengths are measured in the middle body's size, so that pebbles and boulders
/// behave alike.
Settled settled(std::span<const SettleBody> bodies, const SettleStill& still, const SettleOptions& options);

}  // namespace bricol
