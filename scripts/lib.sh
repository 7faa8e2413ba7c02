# Shared by the scripts: finding and installing what is needed, and building when something changed.

need_command() {
  command -v "$1" >/dev/null 2>&1 && return
  echo "$2 is needed and was not found. Install it, then run this again." >&2
  exit 1
}

# Installs Debian packages when the user may; says in one line what to do when not.
need_packages() {
  if [ "$(id -u)" != 0 ]; then
    echo "Missing: $*. Install with: sudo apt-get install $*" >&2
    exit 1
  fi
  echo "Installing $* ..."
  { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"; } >/dev/null 2>.apt-errors || {
    tail -n 3 .apt-errors >&2; rm -f .apt-errors
    echo "Installing $* failed. Check the network and the package sources, then run this again." >&2
    exit 1
  }
  rm -f .apt-errors
}

need_postgres() { compgen -G "/usr/lib/postgresql/*/bin/initdb" >/dev/null || need_packages postgresql; }

need_poppler() { command -v pdftotext >/dev/null 2>&1 || need_packages poppler-utils; }

# An independent synthesiser with its sound set: the ear is tested on what it plays.
need_band() { { command -v fluidsynth && compgen -G "/usr/share/sounds/sf2/*.sf2"; } >/dev/null 2>&1 || need_packages fluidsynth fluid-soundfont-gm; }

# The engine alone, without the browser around it, does the same in two thirds of the time; where it cannot be had, the whole browser does.
need_browser() {
  { command -v chromium && command -v chromedriver; } >/dev/null 2>&1 || need_packages chromium chromium-driver
  command -v chromium-headless-shell >/dev/null 2>&1 || (need_packages chromium-headless-shell) || echo "Going on with chromium."
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# True when an address answers 200; needs no curl.
curl_ok() {
  local rest=${1#http://} host path
  host=${rest%%/*}; path=/${rest#*/}
  { exec 3<>"/dev/tcp/${host%%:*}/${host##*:}"; } 2>/dev/null || return 1
  printf 'GET %s HTTP/1.0\r\nHost: %s\r\n\r\n' "$path" "$host" >&3
  local line=
  read -r -t 5 line <&3 || true
  exec 3>&-
  [[ $line == *" 200 "* ]]
}

# A stamp of the sources, so that a second start builds nothing.
sources_stamp() { { find src demo scripts package-lock.json Directory.*.props Directory.*.targets global.json -type f -not -path '*/bin/*' -not -path '*/obj/*' -not -path '*/wwwroot/*' -print0 | sort -z | xargs -0 sha256sum; } | sha256sum | cut -d' ' -f1; }

# Tembri's own folder: others may pass through (the database's user has to), but see nothing in it.
data_folder() { [ -d .data ] || mkdir -m 711 .data; chmod 711 .data; }

build_all() {
  data_folder
  local stamp; stamp=$(sources_stamp)
  if [ -f .data/built ] && [ "$(cat .data/built)" = "$stamp" ] && [ -f src/Tembri.Web/bin/Release/net10.0/Tembri.Web.dll ] && [ -f src/Tembri.Web/wwwroot/assets/names.json ]; then return; fi
  build_assets
  echo "Building ..."
  build_dotnet src/Tembri.Web || { echo "The build failed; see above." >&2; exit 1; }
  (umask 077; echo "$stamp" >.data/built)
}

# Builds with one compiler for all projects, warm after the first, which ends with the build; without it each project starts its own,
# and a build of everything costs half as much again. It does not count what it could do better next time: there is none.
build_dotnet() {
  local id=tembri-$$ code=0
  DOTNET_TieredPGO=0 dotnet build "$@" -c Release -v quiet --nologo -p:UseSharedCompilation=true -p:SharedCompilationId=$id || code=$?
  pkill -TERM -f "VBCSCompiler.*-pipename:$id\$" 2>/dev/null || true
  return "$code"
}

build_assets() {
  [ -f node_modules/.package-lock.json ] && [ node_modules/.package-lock.json -nt package-lock.json ] || { echo "Installing npm packages ..."; npm ci --silent --no-progress >/dev/null || { echo "npm ci failed. Check the network, then run this again." >&2; exit 1; }; }
  echo "Building styles and scripts ..."
  npm run -s build >/dev/null 2>.asset-errors || { cat .asset-errors >&2; rm -f .asset-errors; echo "Building the assets failed; see above." >&2; exit 1; }
  rm -f .asset-errors
}

pg_programs() { ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n 1; }

# Host, port, user and password of a connection of scripts/pg, as four words.
pg_words() { scripts/pg "$1" | tr ';' '\n' | sed -nE 's/^(Host|Port|Username|Password)=//p' | tr '\n' ' '; }

# Fills in a file of deploy/: what stands in {{NAME}} is the variable NAME. Usage: fill FILE [TO]
fill() {
  local text name
  text=$(cat "$1")
  while [[ $text =~ \{\{([A-Z_]+)\}\} ]]; do name=${BASH_REMATCH[1]}; text=${text//"{{$name}}"/${!name}}; done
  if [ $# -gt 1 ]; then printf '%s\n' "$text" >"$2"; else printf '%s\n' "$text"; fi
}

# The secret of a name in the folder $keys, made when it is asked for first.
secret() { [ -s "$keys/$1" ] || { head -c 24 /dev/urandom | od -An -tx1 | tr -d ' \n' >"$keys/$1"; }; cat "$keys/$1"; }
