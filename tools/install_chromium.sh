#!/bin/sh
# Installs Debian's Chromium for the browser tests, as root or with sudo; says what to do where it can't.
set -eu
command -v chromium > /dev/null 2>&1 && exit 0
say() { echo "The browser tests need Chromium. $1" >&2; exit 1; }
command -v apt-get > /dev/null 2>&1 || say "This is not a Debian system: install Chromium so that the command 'chromium' works, then try again."
if [ "$(id -u)" = 0 ]; then as_root=""
elif command -v sudo > /dev/null 2>&1 && sudo -n true 2> /dev/null; then as_root="sudo"
else say "Ask an administrator to run: apt-get install chromium"
fi
echo "Installing Debian's Chromium ..."
$as_root apt-get update -qq
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends chromium fonts-dejavu-core > /dev/null
