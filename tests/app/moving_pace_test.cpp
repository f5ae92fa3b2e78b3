// SPDX-License-Identifier: GPL-3.0-or-later
// How finely moving pictures are drawn, by how long they took.
#include <catch2/catch.hpp>

#include "app/viewport/moving_pace.h"

using namespace bricol;

namespace {

/// Milliseconds that a picture takes on a machine of some speed: a part for its shapes, a part for its pixels.
double picture(const MovingPace& pace, double shapes, double pixels) {
    return shapes + pixels * pace.share() * pace.share();
}

}  // namespace

TEST_CASE("a machine that is quick enough draws moving pictures whole", "[pace]") {
    MovingPace pace;
    for (int i = 0; i < 100; ++i) {
        pace.took(i % 7 == 0 ? 60 : 20);  // one slow picture now and then is not the machine
        CHECK(pace.share() == 1.0);
    }
}

TEST_CASE("a slow machine draws moving pictures coarser until they keep up, and stays there", "[pace]") {
    MovingPace pace;
    for (int i = 0; i < 4; ++i) pace.took(picture(pace, 8, 44));
    const double found = pace.share();
    CHECK(found < 1);
    CHECK(picture(pace, 8, 44) <= MovingPace::slow);
    for (int i = 0; i < 200; ++i) {
        pace.took(picture(pace, 8, 44));
        CHECK(pace.share() == found);
    }
    // Never coarser than half, however slow.
    for (int i = 0; i < 50; ++i) pace.took(500);
    CHECK(pace.share() == 0.5);
}

TEST_CASE("moving pictures are whole again once there is time", "[pace]") {
    MovingPace pace;
    for (int i = 0; i < 10; ++i) pace.took(80);
    REQUIRE(pace.share() == 0.5);
    int pictures = 0;
    while (pace.share() < 1 && pictures < 100) pace.took(picture(pace, 2, 6)), ++pictures;
    CHECK(pace.share() == 1.0);
    CHECK(pictures <= 20);
}
