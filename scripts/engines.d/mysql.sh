# MySQL, from Debian's unstable distribution, unpacked into a folder of its own with the libraries it
# wants: the stable one has none. Nothing of the machine is changed.

mysql_port=${INLAND_FERRY_MYSQL_PORT:-54332}
mysql_data=$home/mysql
mysql_root=$home/mysql-server
mysql_libraries=$mysql_root/usr/lib/$(uname -m)-linux-gnu

url_mysql() { echo "mysql://ferry@127.0.0.1:$mysql_port/ferry"; }

# There may be no client: a server greets whoever connects.
running_mysql() {
    [ -n "$({ exec 3<> "/dev/tcp/127.0.0.1/$mysql_port" && timeout 5 head -c 12 <&3 | tr -d '\0'; } 2> /dev/null)" ]
}

stopped_mysql() { ! running_mysql; }

# apt with unstable's lists and none of the machine's packages.
unstable() {
    local tool=$1
    shift
    "$tool" -o Dir::Etc::sourcelist="$home/unstable/sources.list" -o Dir::Etc::sourceparts=- \
        -o Dir::State::lists="$home/unstable/lists" -o Dir::State::status="$home/unstable/status" \
        -o Dir::Cache="$home/unstable/cache" -o APT::Sandbox::User="$(id -un)" "$@"
}

install_mysql() {
    [ -e "$mysql_root/usr/sbin/mysqld" ] && return
    mkdir -p "$home/unstable/lists/partial" "$home/unstable/cache/archives/partial" "$home/unstable/debs"
    : > "$home/unstable/status"
    # From where the machine has its own Debian packages.
    apt-get update -qq
    local mirror
    mirror=$(apt-get indextargets --format '$(REPO_URI)' 'Created-By: Packages' 'Origin: Debian' | grep -v -- -security | head -n 1)
    echo "deb [signed-by=/usr/share/keyrings/debian-archive-keyring.gpg] $mirror sid main" > "$home/unstable/sources.list"
    unstable apt-get update -qq
    # What it depends on, but for its scripts' interpreter.
    local wanted
    wanted=$(unstable apt-get install --simulate --no-install-recommends mysql-server-core | awk '/^Inst/ && $2 !~ /perl|gdbm|libdb5/ {print $2}')
    # shellcheck disable=SC2086
    (cd "$home/unstable/debs" && unstable apt-get download -qq $wanted)
    rm -rf "$mysql_root.part"
    mkdir -p "$mysql_root.part"
    local package
    for package in "$home"/unstable/debs/*.deb; do dpkg-deb --extract "$package" "$mysql_root.part"; done
    rm -rf "$home/unstable"
    mv "$mysql_root.part" "$mysql_root"
}

mysql_server() {
    local user=()
    if [ "$(id -u)" = 0 ]; then user=(--user=nobody); fi
    "$mysql_libraries"/ld-linux*.so.* --library-path "$mysql_libraries" "$mysql_root/usr/sbin/mysqld" --no-defaults \
        "${user[@]}" --basedir="$mysql_root/usr" --datadir="$mysql_data" --plugin-dir="$mysql_root/usr/lib/mysql/plugin" \
        --secure-file-priv=NULL "$@"
}

up_mysql() {
    local first=()
    if [ ! -d "$mysql_data/mysql" ]; then
        mkdir -p "$mysql_data"
        own_by nobody "$mysql_data"
        mysql_server --initialize-insecure
        # MD5 and SHA1 are a component of their own since 9.6.
        cat > "$home/mysql.sql" <<SQL
CREATE DATABASE ferry CHARACTER SET utf8mb4;
CREATE USER ferry@'127.0.0.1';
GRANT ALL ON *.* TO ferry@'127.0.0.1' WITH GRANT OPTION;
INSTALL COMPONENT 'file://component_classic_hashing';
SQL
        chmod a+r "$home/mysql.sql"
        first=(--init-file="$home/mysql.sql")
    fi
    mysql_server --port="$mysql_port" --bind-address=127.0.0.1 --socket="$mysql_data/server.sock" \
        --pid-file="$mysql_data/server.pid" --mysqlx=OFF "${first[@]}" --skip-name-resolve \
        --innodb-flush-log-at-trx-commit=0 --daemonize --log-error="$mysql_data/server.log"
    wait_for 60 running_mysql
}

down_mysql() {
    if ! running_mysql || [ ! -e "$mysql_data/server.pid" ]; then return 0; fi
    kill "$(cat "$mysql_data/server.pid")"
    wait_for 30 stopped_mysql
}
