// SPDX-License-Identifier: GPL-3.0-or-later
// What a step's file includes: how it describes itself and what it is given.
#pragma once

#include "core/catalogue/step_info.h"
#include "core/catalogue/step_run.h"
