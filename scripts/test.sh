#!/usr/bin/env bash
# All checks: types, lint, unit tests, build, and the stories in headless Chromium. Installs Debian's Chromium when missing.
set -euo pipefail
cd "$(dirname "$0")/.."

if [ ! -x /usr/bin/chromium ] || [ ! -x /usr/bin/chromedriver ]; then
  echo "Installing chromium and chromium-driver …"
  as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }
  as_root apt-get update -qq
  DEBIAN_FRONTEND=noninteractive as_root apt-get install -y -qq chromium chromium-driver >/dev/null
fi

export NEXT_TELEMETRY_DISABLED=1
npx tsc --noEmit
npm run --silent lint
npm run --silent unit
npm run --silent build
npm run --silent stories
