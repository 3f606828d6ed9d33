#!/usr/bin/env bash
# Install hashed requirements into .venv: by uv where it can be had, by pip otherwise.
set -euo pipefail
file=$1
py=.venv/bin/python
"$py" -m uv --version >/dev/null 2>&1 || "$py" -m pip install --quiet --disable-pip-version-check uv==0.13.9 || true
if "$py" -m uv --version >/dev/null 2>&1; then
  "$py" -m uv pip install --quiet --python "$py" --compile-bytecode --require-hashes -r "$file" && exit 0
fi
"$py" -m pip install --quiet --disable-pip-version-check --require-hashes -r "$file"
