#!/usr/bin/env bash
# Installs the Chromium that the page's tests drive, where there is none: Debian's package, as root or through sudo.
set -euo pipefail
browser="${CHROMIUM:-/usr/bin/chromium}"
if [ -x "$browser" ]; then
  echo "Chromium: $("$browser" --version 2>/dev/null || echo "$browser")"
  exit 0
fi
as_root=""
[ "$(id -u)" = 0 ] || as_root="sudo"
$as_root apt-get update -qq
$as_root apt-get install -y -qq --no-install-recommends chromium
