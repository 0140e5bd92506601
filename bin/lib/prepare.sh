# Sourced by bin/start and bin/test: installs what is missing. Expects $here, takes Debian packages as "command:package".

say() { printf '%s\n' "$*" >&2; }

require_node() {
  if ! command -v node >/dev/null || [ "$(node -p 'Number(process.versions.node.split(".")[0])')" -lt 20 ]; then
    say "Node.js 20 or later is needed (with npm). Install it, then run this again."
    exit 1
  fi
}

have() {
  [ "$1" = postgres ] && { compgen -G '/usr/lib/postgresql/*/bin/initdb' >/dev/null || command -v initdb >/dev/null; return; }
  command -v "$1" >/dev/null
}

require_packages() {
  local missing=()
  for pair in "$@"; do have "${pair%%:*}" || missing+=("${pair##*:}"); done
  [ ${#missing[@]} -eq 0 ] && return
  local install="apt-get install -y --no-install-recommends ${missing[*]}"
  local as=''
  if [ "$(id -u)" -ne 0 ]; then
    if ! sudo -n true 2>/dev/null; then
      say "These Debian packages are missing: ${missing[*]}. Run this line once, then start again:"
      say "  sudo apt-get update && sudo $install"
      exit 1
    fi
    as='sudo -n'
  fi
  say "Installing ${missing[*]} ..."
  # The package's own cluster is not wanted; the application runs one of its own.
  $as mkdir -p /etc/postgresql-common
  [ -e /etc/postgresql-common/createcluster.conf ] || echo 'create_main_cluster = false' | $as tee /etc/postgresql-common/createcluster.conf >/dev/null
  $as apt-get -o DPkg::Lock::Timeout=900 update -qq
  DEBIAN_FRONTEND=noninteractive $as $install -o DPkg::Lock::Timeout=900 -qq >&2
}

require_modules() {
  local stamp
  stamp=$(sha256sum "$here/package-lock.json" | cut -d' ' -f1)
  [ "$(cat "$here/node_modules/.zero-latch-stamp" 2>/dev/null)" = "$stamp" ] && return
  say "Installing the packages of package-lock.json ..."
  (cd "$here" && npm ci --include=dev --no-audit --no-fund >&2)
  echo "$stamp" > "$here/node_modules/.zero-latch-stamp"
}
