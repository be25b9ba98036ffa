# MariaDB, from Debian.

maria_port=${INLAND_FERRY_MARIADB_PORT:-54330}
maria_data=$home/mariadb

url_mariadb() { echo "mysql://ferry@127.0.0.1:$maria_port/ferry"; }

maria_client() { mariadb --no-defaults --protocol=tcp -h 127.0.0.1 -P "$maria_port" -u ferry "$@"; }

running_mariadb() { command -v mariadb > /dev/null && maria_client -e 'SELECT 1' > /dev/null 2>&1; }

install_mariadb() {
    command -v mariadbd > /dev/null && command -v mariadb > /dev/null && return
    # A server of Debian's own is not wanted: the package's scripts may start none.
    printf '#!/bin/sh\nexit 101\n' > /usr/sbin/policy-rc.d
    chmod +x /usr/sbin/policy-rc.d
    local ended=0
    apt_install mariadb-server mariadb-client || ended=$?
    rm -f /usr/sbin/policy-rc.d
    return "$ended"
}

up_mariadb() {
    if [ ! -d "$maria_data/mysql" ]; then
        mkdir -p "$maria_data"
        own_by mysql "$maria_data"
        mariadb-install-db --no-defaults --user=mysql --datadir="$maria_data" --auth-root-authentication-method=normal --skip-test-db
    fi
    cat > "$home/mariadb.sql" <<SQL
CREATE DATABASE IF NOT EXISTS ferry CHARACTER SET utf8mb4;
CREATE USER IF NOT EXISTS ferry@'127.0.0.1';
GRANT ALL ON *.* TO ferry@'127.0.0.1' WITH GRANT OPTION;
SQL
    chmod a+r "$home/mariadb.sql"
    setsid mariadbd --no-defaults --user=mysql --datadir="$maria_data" --port="$maria_port" --bind-address=127.0.0.1 \
        --socket="$maria_data/server.sock" --pid-file="$maria_data/server.pid" --init-file="$home/mariadb.sql" \
        --skip-name-resolve --character-set-server=utf8mb4 --innodb-flush-log-at-trx-commit=0 --log-error="$maria_data/server.log" \
        > /dev/null 2>&1 < /dev/null &
    wait_for 60 running_mariadb
}

down_mariadb() {
    if running_mariadb && [ -e "$maria_data/server.pid" ]; then
        mariadb-admin --no-defaults --protocol=tcp -h 127.0.0.1 -P "$maria_port" -u ferry shutdown
    fi
}
