# Spark Connect, one local server, and its ADBC driver, both from PyPI.

spark_version=4.0.1
spark_port=${INLAND_FERRY_SPARK_PORT:-54331}
spark_home=$home/python/lib/python3*/site-packages/pyspark
spark_pid=$home/spark/server.pid

spark_library() { ls $home/python/lib/python3*/site-packages/adbc_driver_spark/*.so 2> /dev/null | head -n 1; }

url_spark() { echo "adbc:$(spark_library)?uri=sc://127.0.0.1:$spark_port&dialect=spark@${spark_version%.*}"; }

running_spark() { [ -n "$(spark_library)" ] && (exec 3<> "/dev/tcp/127.0.0.1/$spark_port") 2> /dev/null; }

install_spark() {
    command -v java > /dev/null || apt_install default-jre-headless
    pip_install pyspark "pyspark==$spark_version"
    pip_install adbc_driver_spark adbc-driver-spark
}

up_spark() {
    mkdir -p "$home/spark"
    # One clock for all: the same query gives the same timestamps on every machine.
    (
        cd "$home/spark"
        # shellcheck disable=SC2086 # The home of pyspark is a pattern.
        SPARK_HOME=$(echo $spark_home) SPARK_LOCAL_IP=127.0.0.1 setsid $spark_home/bin/spark-submit \
            --class org.apache.spark.sql.connect.service.SparkConnectServer --master 'local[2]' --driver-memory 2g \
            --conf spark.connect.grpc.binding.port="$spark_port" --conf spark.connect.grpc.binding.address=127.0.0.1 \
            --conf spark.ui.enabled=false --conf spark.sql.shuffle.partitions=2 --conf spark.sql.session.timeZone=UTC \
            --conf spark.sql.warehouse.dir="$home/spark/warehouse" --conf spark.driver.extraJavaOptions=-Duser.timezone=UTC \
            --conf spark.sql.catalogImplementation=in-memory \
            > "$home/spark/server.log" 2>&1 < /dev/null &
        echo $! > "$spark_pid"
    )
    wait_for 120 running_spark
}

down_spark() {
    if running_spark && [ -e "$spark_pid" ]; then
        kill "$(cat "$spark_pid")" 2> /dev/null || true
        rm -f "$spark_pid"
    fi
}
