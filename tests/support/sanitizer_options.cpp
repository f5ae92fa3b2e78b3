// SPDX-License-Identifier: GPL-3.0-or-later
// Read by the sanitisers as they start. Leaks are looked for by hand: OpenSubdiv and TBB keep statics that are not ours
// to free.
extern "C" __attribute__((visibility("default"))) const char* __asan_default_options() { return "detect_leaks=0"; }
extern "C" __attribute__((visibility("default"))) const char* __ubsan_default_options() { return "print_stacktrace=1"; }
