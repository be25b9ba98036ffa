# PostgreSQL, from Debian.

pg_port=${INLAND_FERRY_POSTGRES_PORT:-54329}
pg_data=$home/postgres

pg_bin() { ls -d /usr/lib/postgresql/*/bin 2> /dev/null | sort -V | tail -n 1; }

url_postgres() { echo "postgres://ferry@127.0.0.1:$pg_port/ferry"; }

running_postgres() { [ -n "$(pg_bin)" ] && "$(pg_bin)/pg_isready" -q -h 127.0.0.1 -p "$pg_port"; }

install_postgres() {
    [ -z "$(pg_bin)" ] || return 0
    # Debian's own cluster is not wanted: only the programs.
    mkdir -p /etc/postgresql-common
    [ -e /etc/postgresql-common/createcluster.conf ] || echo 'create_main_cluster = false' > /etc/postgresql-common/createcluster.conf
    apt_install postgresql
}

up_postgres() {
    local bin
    bin=$(pg_bin)
    if [ ! -e "$pg_data/PG_VERSION" ]; then
        mkdir -p "$pg_data"
        own_by postgres "$pg_data"
        as_user postgres "$bin/initdb" -D "$pg_data" -U ferry -A trust -E UTF8 --locale=C.UTF-8
    fi
    # -l: the server must not keep our log open.
    as_user postgres "$bin/pg_ctl" -D "$pg_data" -w -l "$pg_data/server.log" \
        -o "-p $pg_port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c fsync=off" start
    as_user postgres "$bin/createdb" -h 127.0.0.1 -p "$pg_port" -U ferry ferry || true
}

down_postgres() {
    if running_postgres && [ -e "$pg_data/postmaster.pid" ]; then
        as_user postgres "$(pg_bin)/pg_ctl" -D "$pg_data" -m fast stop > /dev/null
    fi
}
