# DuckDB's shared library, from the npm registry: a library, so "running" means that it is there.

duck_version=1.5.6-r.1
duck_home=$home/duckdb
duck_library=$duck_home/node_modules/@duckdb/node-bindings-linux-x64/libduckdb.so

url_duckdb() { echo "adbc:$duck_library?entrypoint=duckdb_adbc_init&path=:memory:"; }

running_duckdb() { [ -e "$duck_library" ]; }

install_duckdb() {
    command -v npm > /dev/null || apt_install npm
    mkdir -p "$duck_home"
    npm install --prefix "$duck_home" --no-audit --no-fund --silent "@duckdb/node-bindings-linux-x64@$duck_version"
}

up_duckdb() { running_duckdb; }

down_duckdb() { true; }
