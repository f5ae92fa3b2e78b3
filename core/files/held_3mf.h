// SPDX-License-Identifier: GPL-3.0-or-later
// What lib3mf hands out, for whoever writes or reads by it.
#pragma once

#include <Model/COM/NMR_DLLInterfaces.h>

namespace bricol {

/// Something lib3mf has handed out, given back at the end.
class Held {
public:
    Held() = default;
    Held(const Held&) = delete;
    Held& operator=(const Held&) = delete;
    ~Held() {
        if (at_) NMR::lib3mf_release(at_);
    }
    NMR::PLib3MFBase** out() { return &at_; }
    operator NMR::PLib3MFBase*() const { return at_; }

private:
    NMR::PLib3MFBase* at_ = nullptr;
};

}  // namespace bricol
