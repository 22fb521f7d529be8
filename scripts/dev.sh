#!/usr/bin/env bash
# npm run dev: builds and serves again whenever a source changes.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh
exec node --watch-path=app --watch-path=core --watch-path=server --watch-path=workers --import tsx scripts/dev.mjs
