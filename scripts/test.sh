#!/usr/bin/env bash
# What is checked after each change: types, lint, unit tests, build, and the stories in headless Chromium and Firefox. Installs Debian's browsers when missing.
set -euo pipefail
cd "$(dirname "$0")/.."

missing=()
[ -x /usr/bin/chromium ] || missing+=(chromium)
[ -x /usr/bin/chromedriver ] || missing+=(chromium-driver)
[ -x /usr/bin/firefox-esr ] || missing+=(firefox-esr)
if [ ${#missing[@]} -gt 0 ]; then
  echo "Installing ${missing[*]} …"
  as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }
  as_root apt-get update -qq
  DEBIAN_FRONTEND=noninteractive as_root apt-get install -y -qq "${missing[@]}" >/dev/null
fi

export NEXT_TELEMETRY_DISABLED=1
npx tsc --noEmit
npm run --silent lint
npm run --silent unit
npm run --silent build
npm run --silent stories
