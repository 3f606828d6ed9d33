#!/usr/bin/env bash
# Make .venv with Python 3.11; a Debian without the venv module gets it first.
set -euo pipefail
python=$(command -v python3.11 || command -v python3)
"$python" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' || { echo "Python 3.11 is needed; $python is another" >&2; exit 1; }
"$python" -c 'import ensurepip, venv' 2>/dev/null || "$(dirname "$0")/install_debian.sh" python3-venv python3-pip
[ -x .venv/bin/pip ] || { rm -rf .venv; "$python" -m venv .venv; }
