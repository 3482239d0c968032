#!/usr/bin/env bash
# A private PostgreSQL in a folder, for trying several benches and for the tests. It listens on a socket in that folder
# only; a server of this machine, its port and its data are never touched.
#
#   scripts/server.sh start DIR    make (once) and start it; prints the URL of the shop
#   scripts/server.sh stop DIR     stop it; `kill DIR` stops it as a power cut would
#   scripts/server.sh url DIR      print the URL
set -eu

say() { printf '%s\n' "$*" >&2; }
[ $# -ge 2 ] || { say "Usage: scripts/server.sh start|stop|kill|url DIR"; exit 2; }
what=$1; mkdir -p "$2"; dir=$(cd "$2" && pwd)
if [ ! -e "$dir/data/PG_VERSION" ] && [ -n "$(ls -A "$dir")" ]; then
  say "$dir holds other things; name an empty folder."; exit 2
fi

tools=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1)
[ -n "$tools" ] && [ -x "$tools/initdb" ] || { say "PostgreSQL is not installed here (Debian package postgresql-15)."; exit 3; }

# The server refuses to run as root: then it runs as the user that the Debian package made.
as=""
if [ "$(id -u)" = 0 ]; then
  id postgres >/dev/null 2>&1 || { say "The user postgres of the Debian package is missing."; exit 3; }
  as="setpriv --reuid=postgres --regid=postgres --clear-groups"
  chown postgres "$dir"
  [ -e "$dir/data" ] || chmod 711 "$dir"
fi
user=$(id -un)
url="postgresql://$user@/shop?host=$dir"
run() { (cd / && $as env -u PGHOST -u PGPORT -u PGDATA "$@"); }

case $what in
  start)
    if [ ! -e "$dir/data/PG_VERSION" ]; then
      run "$tools/initdb" -D "$dir/data" -U "$user" -A trust -E UTF8 --locale=C.UTF-8 >/dev/null
      printf '%s\n' "listen_addresses = ''" "unix_socket_directories = '$dir'" "unix_socket_permissions = 0777" \
        "max_connections = 100" "logging_collector = off" | run tee -a "$dir/data/postgresql.conf" >/dev/null
    fi
    run "$tools/pg_ctl" -D "$dir/data" status >/dev/null 2>&1 \
      || run "$tools/pg_ctl" -D "$dir/data" -l "$dir/data/server.log" -w -t 60 start >/dev/null \
      || { say "The server did not start; see $dir/data/server.log."; exit 1; }
    run "$tools/psql" -h "$dir" -U "$user" -d postgres -qAt -c "select 1 from pg_database where datname = 'shop'" \
      | grep -q 1 || run "$tools/createdb" -h "$dir" -U "$user" shop
    printf '%s\n' "$url" ;;
  stop) run "$tools/pg_ctl" -D "$dir/data" -m fast -w stop >/dev/null ;;
  kill) run "$tools/pg_ctl" -D "$dir/data" -m immediate -w stop >/dev/null ;;
  url) printf '%s\n' "$url" ;;
  *) say "Unknown: $what"; exit 2 ;;
esac
