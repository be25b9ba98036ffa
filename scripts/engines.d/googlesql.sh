# The GoogleSQL reference evaluator, from PyPI: a module that a bridge imports, so "running" means
# that it is there. The drivers of the servers above come along, for the bridge of DB-API drivers.

google_bridge=$(cd "$here/.." && pwd)/bridges/googlesql.py

url_googlesql() { echo "bridge:$home/python/bin/python $google_bridge?dialect=bigquery"; }

running_googlesql() { ls -d "$home"/python/lib/python3*/site-packages/zetasql > /dev/null 2>&1; }

install_googlesql() {
    pip_install zetasql zetasql
    pip_install psycopg2 psycopg2-binary
    pip_install pymysql PyMySQL
}

up_googlesql() { running_googlesql; }

down_googlesql() { true; }
