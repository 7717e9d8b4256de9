#!/usr/bin/env bash
# Counts lines of code that are not blank: all, tests, and the share of tests. Generated and demo data are left out.
set -euo pipefail
cd "$(dirname "$0")/.."
count() { xargs -r -d '\n' cat -- | grep -c '[^[:space:]]' || true; }
files=$(git ls-files -co --exclude-standard | grep -E '\.(go|ts|vue|js|css|sh|sql)$|^Makefile$' | grep -v -E 'schema\.d\.ts$')
test_files=$(grep -E '_test\.go$|^e2e/' <<<"$files")
all=$(count <<<"$files")
tests=$(count <<<"$test_files")
printf 'code %d, tests %d, share %.1f %%\n' "$all" "$tests" "$(awk -v t="$tests" -v a="$all" 'BEGIN{print 100*t/a}')"
