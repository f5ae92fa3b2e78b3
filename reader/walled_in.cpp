// SPDX-License-Identifier: GPL-3.0-or-later
#include "reader/walled_in.h"

#include <array>
#include <cerrno>
#include <cstddef>
#include <cstdint>
#include <linux/audit.h>
#include <linux/filter.h>
#include <linux/seccomp.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/syscall.h>
#include <vector>

namespace bricol::reader {

namespace {

#if defined(__x86_64__)
constexpr std::uint32_t machine = AUDIT_ARCH_X86_64;
#elif defined(__aarch64__)
constexpr std::uint32_t machine = AUDIT_ARCH_AARCH64;
#else
constexpr std::uint32_t machine = 0;
#endif

/// What a library needs to compute: memory, locks, clocks, its own end.
constexpr auto allowed = std::to_array<std::uint32_t>({
    __NR_read,          __NR_write,         __NR_lseek,        __NR_fstat,      __NR_close,
    __NR_brk,           __NR_mmap,          __NR_munmap,       __NR_mremap,     __NR_mprotect,
    __NR_madvise,       __NR_futex,         __NR_exit,         __NR_exit_group, __NR_rt_sigaction,
    __NR_rt_sigprocmask, __NR_rt_sigreturn, __NR_clock_gettime, __NR_gettimeofday, __NR_getrandom,
    __NR_getpid,        __NR_gettid,        __NR_tgkill,       __NR_sched_yield, __NR_prlimit64,
});

}  // namespace

bool bound_resources(std::size_t most_bytes, unsigned most_seconds) {
    const auto bound = [](int what, rlim_t most) {
        const rlimit limit{most, most};
        return setrlimit(static_cast<__rlimit_resource_t>(what), &limit) == 0;
    };
    return bound(RLIMIT_AS, most_bytes) && bound(RLIMIT_CPU, most_seconds) && bound(RLIMIT_CORE, 0);
}

bool wall_in() {
    if (machine == 0) return false;
    std::vector<sock_filter> rules = {
        BPF_STMT(BPF_LD | BPF_W | BPF_ABS, offsetof(seccomp_data, arch)),
        BPF_JUMP(BPF_JMP | BPF_JEQ | BPF_K, machine, 1, 0),
        BPF_STMT(BPF_RET | BPF_K, SECCOMP_RET_KILL_PROCESS),
        BPF_STMT(BPF_LD | BPF_W | BPF_ABS, offsetof(seccomp_data, nr)),
    };
    for (std::size_t i = 0; i < allowed.size(); ++i)
        rules.push_back(BPF_JUMP(BPF_JMP | BPF_JEQ | BPF_K, allowed[i],
                                 static_cast<std::uint8_t>(allowed.size() - i), 0));
    rules.push_back(BPF_STMT(BPF_RET | BPF_K, SECCOMP_RET_ERRNO | EPERM));
    rules.push_back(BPF_STMT(BPF_RET | BPF_K, SECCOMP_RET_ALLOW));
    const sock_fprog program{static_cast<unsigned short>(rules.size()), rules.data()};
    return prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) == 0 &&
           prctl(PR_SET_SECCOMP, SECCOMP_MODE_FILTER, &program, 0, 0) == 0;
}

}  // namespace bricol::reader
