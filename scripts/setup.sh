# Sourced by ./start and ./test: Debian's packages, the Python environment, the front-end build.
# Each step leaves a stamp of what it was made from, so that a second run takes no time.

say() { printf '%s\n' "$*" >&2; }
stop() { say "$name: $*"; exit 1; }
stamp() { cat "$@" | sha256sum | cut -d' ' -f1; }

debian_packages() {
  local missing=()
  ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || missing+=(postgresql)
  ls /usr/lib/*/libpangoft2-1.0.so.0 >/dev/null 2>&1 || missing+=(libpangoft2-1.0-0)
  # servers lie where an ordinary user does not look
  for program in "$@"; do PATH="$PATH:/usr/sbin" command -v "$program" >/dev/null || missing+=("$program"); done
  [ ${#missing[@]} -eq 0 ] && return
  [ "$(id -u)" -eq 0 ] || stop "found no ${missing[*]}, expected Debian's packages; as root: apt-get install ${missing[*]}"
  say "Installing Debian's ${missing[*]} …"
  { apt-get update -qq && DEBIAN_FRONTEND=noninteractive RUNLEVEL=1 apt-get install -y -qq "${missing[@]}"; } >/dev/null 2>&1 </dev/null ||
    stop "found that apt-get could not install ${missing[*]}, expected Debian's packages to be reachable"
}

# Debian's own Python before one that somebody built: it is optimised by a profile, which makes it a fifth faster, and
# the user that the server runs as can reach it.
toolchains() {
  python=/usr/bin/python3
  "$python" -c 'import ensurepip, sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null ||
    python=$(command -v python3.11 || command -v python3) || stop "found no python3, expected Python 3.11 or newer"
  "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' || stop "found $("$python" -V), expected Python 3.11 or newer"
  command -v npm >/dev/null || stop "found no npm, expected Node.js 20 or newer with npm"
  node -e 'process.exit(Number(process.versions.node.split(".")[0]) < 20 ? 1 : 0)' || stop "found Node.js $(node -v), expected 20 or newer"
}

python_environment() {
  local wanted; wanted=$({ "$python" -c 'import sys; print(sys.executable, sys.version)' && cat requirements.txt pyproject.toml; } | stamp)
  [ "$(cat .venv/uvrix-stamp 2>/dev/null)" = "$wanted" ] && [ -x .venv/bin/uvrix ] && return
  say "Setting up Python …"
  "$python" -m venv --clear .venv || stop "found that python3 -m venv failed, expected Debian's python3-venv"
  .venv/bin/pip install -qq --disable-pip-version-check --require-hashes -r requirements.txt >&2 ||
    stop "found that pip failed (above), expected requirements.txt to install"
  .venv/bin/pip install -qq --disable-pip-version-check --no-deps --no-build-isolation -e . >&2 ||
    stop "found that pip failed (above), expected the project to install"
  printf '%s' "$wanted" > .venv/uvrix-stamp
}

# What checks the product is not on a server that runs it.
test_tools() {
  local wanted; wanted=$(stamp requirements.txt requirements-test.txt)
  [ "$(cat .venv/uvrix-test-stamp 2>/dev/null)" = "$wanted" ] && return
  say "Setting up what checks it …"
  .venv/bin/pip install -qq --disable-pip-version-check --require-hashes -r requirements-test.txt >&2 ||
    stop "found that pip failed (above), expected requirements-test.txt to install"
  printf '%s' "$wanted" > .venv/uvrix-test-stamp
}

front_end() {
  local wanted; wanted=$(stamp web/package.json web/package-lock.json)
  if [ "$(cat web/node_modules/.uvrix-stamp 2>/dev/null)" != "$wanted" ]; then
    say "Setting up the front end …"
    (cd web && npm ci --no-audit --no-fund --loglevel=error </dev/null >&2) || stop "found that npm ci failed (above), expected it to install"
    printf '%s' "$wanted" > web/node_modules/.uvrix-stamp
  fi
  wanted=$(find web/src web/public web/index.html web/*.ts web/*.json -type f -print0 | sort -z | xargs -0 cat | sha256sum | cut -d' ' -f1)
  if [ "$(cat web/dist/.uvrix-stamp 2>/dev/null)" != "$wanted" ]; then
    say "Building the front end …"
    (cd web && npx --no-install vite build --logLevel warn </dev/null >&2) || stop "found that the front-end build failed (above), expected it to succeed"
    .venv/bin/python -m whitenoise.compress -q web/dist >&2
    printf '%s' "$wanted" > web/dist/.uvrix-stamp
  fi
}

# prepare PROGRAM…: everything that both commands need; the programs are Debian packages of the same name. With with_tests
# set, what checks the product too.
prepare() {
  # without kept bytecode each of its programs would compile all that it imports once more
  unset PYTHONPATH PYTHONHOME PYTHONDONTWRITEBYTECODE
  exec 9>.prepare.lock && flock 9
  debian_packages "$@"
  toolchains
  python_environment
  [ -z "${with_tests:-}" ] || test_tools
  front_end
  exec 9>&-
}
