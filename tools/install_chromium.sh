#!/bin/sh
# Installs Debian's newest Chromium for the browser tests, as root or with sudo, and prints its version; says what to do where it can't.
# A browser that is there already is brought up to date, so that a green suite speaks of the browser that a fresh machine would get.
set -eu
say() { echo "The browser tests need Chromium. $1" >&2; exit 1; }
has_one() { command -v chromium > /dev/null 2>&1; }
shown() { chromium --version; exit 0; }
as_it_is() { echo "Chromium is not brought up to date: $1" >&2; shown; }
if ! command -v apt-get > /dev/null 2>&1; then
    has_one && as_it_is "this is not a Debian system."
    say "This is not a Debian system: install Chromium so that the command 'chromium' works, then try again."
fi
if [ "$(id -u)" = 0 ]; then as_root=""
elif command -v sudo > /dev/null 2>&1 && sudo -n true 2> /dev/null; then as_root="sudo"
else
    has_one && as_it_is "that takes an administrator (apt-get install chromium)."
    say "Ask an administrator to run: apt-get install chromium"
fi
has_one || echo "Installing Debian's Chromium ..."
if $as_root apt-get update -qq &&
    DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends chromium fonts-dejavu-core > /dev/null
then shown; fi
has_one && as_it_is "Debian's packages could not be reached."
say "Debian's packages could not be reached: try again with a network."
