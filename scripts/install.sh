#!/usr/bin/env bash
# Installs Debian packages (named as arguments) that are missing, and the npm packages of the lock file. Does nothing where all is in place.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
say() { printf 'Cork Twin: %s\n' "$*"; }

has() {
  case $1 in
    postgresql) compgen -G '/usr/lib/postgresql/*/bin/initdb' >/dev/null ;;
    ffmpeg) command -v ffmpeg >/dev/null ;;
    chromium) [ -x /usr/bin/chromium ] ;;
    opencv-doc) [ -e /usr/share/doc/opencv-doc/examples/data/aloeL.jpg ] || [ -e /usr/share/doc/opencv-doc/examples/data/aloeL.jpg.gz ] ;;
    kimageformat-plugins) compgen -G '/usr/lib/*/qt5/plugins/imageformats/kimg_ora.so' >/dev/null ;;
    python3-pyqt5) [ -x /usr/bin/python3 ] && /usr/bin/python3 -c 'import PyQt5.QtGui' 2>/dev/null ;;
    python3-opencv) [ -x /usr/bin/python3 ] && /usr/bin/python3 -c 'import cv2' 2>/dev/null ;;
  esac
}
missing=()
for package in "$@"; do has "$package" || missing+=("$package"); done
if [ ${#missing[@]} -gt 0 ]; then
  if [ "$(id -u)" != 0 ]; then
    say "these Debian packages are missing: ${missing[*]}. Only root can install them: sudo apt-get install ${missing[*]}" >&2
    exit 1
  fi
  say "installing ${missing[*]} (Debian)"
  export DEBIAN_FRONTEND=noninteractive
  # A new cluster of Debian's own is of no use here.
  mkdir -p /etc/postgresql-common/createcluster.d && echo 'create_main_cluster = false' > /etc/postgresql-common/createcluster.d/cork-twin.conf
  { apt-get update -qq && apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >/tmp/cork-apt.log 2>&1 || { say "installing failed; the end of /tmp/cork-apt.log: $(tail -n 2 /tmp/cork-apt.log | tr '\n' ' ')" >&2; exit 1; }
fi

stamp=node_modules/.cork-lock
sum=$(sha256sum package-lock.json | cut -d' ' -f1)
if [ ! -f "$stamp" ] || [ "$(cat "$stamp")" != "$sum" ]; then
  say 'installing npm packages from the lock file (some minutes the first time)'
  npm ci --no-audit --no-fund >/tmp/cork-npm.log 2>&1 || npm install --no-audit --no-fund --no-save >/tmp/cork-npm.log 2>&1 \
    || { say "npm failed; the end of /tmp/cork-npm.log: $(tail -n 2 /tmp/cork-npm.log | tr '\n' ' ')" >&2; exit 1; }
  echo "$sum" > "$stamp"
fi
