#!/usr/bin/env bash
# Builds the application when its sources changed since the last build.
set -euo pipefail
cd "$(dirname "$0")/.."
sum=$( { git ls-files -co --exclude-standard app core workers server voice demo package-lock.json vite.config.ts react-router.config.ts tsconfig.json 2>/dev/null || find app core workers server voice demo -type f; } | sort | { xargs sha256sum 2>/dev/null || true; } | sha256sum | cut -c1-32)
if [ "$(cat build/.sources 2>/dev/null || true)" != "$sum" ]; then
  echo "Building"
  npx react-router build > .build.log 2>&1 || { cat .build.log >&2; exit 1; }
  echo "$sum" > build/.sources
fi
rm -f .build.log
