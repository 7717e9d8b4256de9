#!/bin/sh
# Installs Debian packages that are missing: need.sh COMMAND=PACKAGE … Asks for root only when something is missing.
set -eu
missing=
for pair in "$@"; do
  command=${pair%%=*}
  PATH="$PATH:/usr/sbin:/sbin" command -v "$command" >/dev/null 2>&1 || missing="$missing ${pair#*=}"
done
[ -n "$missing" ] || exit 0
run=
if [ "$(id -u)" -ne 0 ]; then
  if ! command -v sudo >/dev/null 2>&1; then
    echo "Missing Debian packages:$missing. Install them as root: apt-get install$missing" >&2
    exit 1
  fi
  run=sudo
fi
echo "Installing from Debian:$missing"
log=$(mktemp)
if ! { $run apt-get update -qq && DEBIAN_FRONTEND=noninteractive $run apt-get install -y -qq --no-install-recommends $missing; } >"$log" 2>&1; then
  tail -n 5 "$log" >&2
  echo "Could not install:$missing. Install them by hand, then run this again." >&2
  exit 1
fi
rm -f "$log"
