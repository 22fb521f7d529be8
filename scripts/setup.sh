#!/usr/bin/env bash
# Installs what is missing: Debian packages (as root or with sudo) and npm packages. Safe to run again.
set -euo pipefail
cd "$(dirname "$0")/.."

node -e 'const [a,b]=process.versions.node.split(".").map(Number);process.exit(a>20||(a===20&&b>=19)?0:1)' || { echo "Node 20.19 or later is needed." >&2; exit 1; }

need=()
ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || need+=(postgresql)
if [ "${1:-}" = "test" ]; then
  command -v chromium-headless-shell >/dev/null || need+=(chromium-headless-shell)
  command -v assimp >/dev/null || need+=(assimp-utils)
  [ -d /usr/share/assimp/models ] || need+=(assimp-testmodels)
  command -v praat >/dev/null || need+=(praat)
fi
if [ ${#need[@]} -gt 0 ]; then
  echo "Installing Debian packages: ${need[*]}"
  as_root=""
  if [ "$(id -u)" != 0 ]; then
    command -v sudo >/dev/null || { echo "Run as root: apt-get install ${need[*]}" >&2; exit 1; }
    as_root="sudo"
  fi
  $as_root apt-get update -qq
  # a distribution's own cluster is not wanted: the application keeps one of its own
  DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends "${need[@]}" >/dev/null
fi

stamp=node_modules/.yxomorph-lock
if [ ! -f "$stamp" ] || ! cmp -s package-lock.json "$stamp"; then
  echo "Installing npm packages"
  PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm ci --no-audit --no-fund --loglevel=error
  cp package-lock.json "$stamp"
fi
