#!/usr/bin/env bash
# npm start: set up, build, start the database, load the demo cast, serve.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh
bash scripts/build.sh
exec env NODE_ENV=production node --import tsx server/main.ts
