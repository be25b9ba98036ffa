#!/usr/bin/env python3
"""A bridge for the GoogleSQL reference evaluator, the zetasql module of PyPI: the live engine of the
bigquery dialect. It evaluates queries over tables that are loaded into it, and holds nothing else.

    bridge:python3 bridges/googlesql.py?dialect=bigquery
"""

import ctypes
import datetime
import decimal
import re

from ferry_bridge import Engine, Failure, serve, to_wire

# The neutral types of the protocol's `table` message, and the evaluator's.
TYPES = {
    "integer": "INT64",
    "decimal": "NUMERIC",
    "float": "DOUBLE",
    "boolean": "BOOL",
    "date": "DATE",
    "time": "TIME",
    "timestamp": "DATETIME",
    "timestamp with time zone": "TIMESTAMP",
    "binary": "BYTES",
}
# The names BigQuery has for types that the evaluator calls otherwise.
NAMES = {"DOUBLE": "FLOAT64", "FLOAT": "FLOAT32"}
EPOCH = datetime.date(1970, 1, 1)


class GoogleSql(Engine):
    def __init__(self):
        self.tables, self.content, self.catalog = {}, {}, None

    def open(self, writes):
        try:
            self.start()
        except ImportError as error:
            raise Failure(f"Python has no module zetasql ({error}); pip install zetasql", "unreachable")
        from zetasql.__version__ import __version__

        return {"engine": f"GoogleSQL evaluator (zetasql {__version__})", "dialect": "bigquery", "loads": "tables"}

    def start(self):
        import zetasql.core.wasm_client as client

        # Compiling the evaluator takes half a minute; the compiled one is kept between runs.
        make_config = client.Config

        def config():
            made = make_config()
            made.cache = True
            return made

        # Byte by byte, as the module copies, a few thousand rows take seconds.
        def write(self, pointer, data):
            ctypes.memmove(ctypes.addressof(self.memory.data_ptr().contents) + pointer, data, len(data))

        def read(self, pointer, size):
            return ctypes.string_at(ctypes.addressof(self.memory.data_ptr().contents) + pointer, size)

        client.Config, client.WasmClient.write_bytes, client.WasmClient.read_bytes = config, write, read
        from zetasql.core.exceptions import ServerError
        from zetasql.wasi import get_wasm_path
        from zetasql.wasi._pb2.zetasql.local_service import local_service_pb2
        from zetasql.wasi._pb2.zetasql.proto import options_pb2, simple_catalog_pb2
        from zetasql.wasi._pb2.zetasql.public import options_pb2 as public_options_pb2
        from zetasql.wasi._pb2.zetasql.public import type_pb2, value_pb2

        self.error, self.service, self.kinds, self.values = ServerError, local_service_pb2, type_pb2, value_pb2
        self.client = client.WasmClient(get_wasm_path())
        features = self.call("GetLanguageOptions", "LanguageOptionsRequest", options_pb2.LanguageOptionsProto, maximum_features=True)
        features.product_mode = public_options_pb2.PRODUCT_EXTERNAL
        self.options = options_pb2.AnalyzerOptionsProto(language_options=features, default_timezone="UTC")
        self.simple_catalog = simple_catalog_pb2.SimpleCatalogProto
        self.builtin = options_pb2.ZetaSQLBuiltinFunctionOptionsProto(language_options=features)
        self.register()

    def call(self, method, request, response, **fields):
        made = getattr(self.service, request)(**fields)
        try:
            return self.client.call_grpc_func(f"ZetaSqlLocalService_{method}", made, response)
        except self.error as error:
            code = getattr(error.code, "name", str(error.code))
            raise Failure(re.sub(r"^\[\w+\] ", "", str(error)), code=code, place=None)

    # --- tables ------------------------------------------------------------------------------------

    def clear(self):
        self.tables, self.content = {}, {}
        self.catalog_is_stale()

    def table(self, name, columns):
        self.tables[name], self.content[name] = columns, []
        self.catalog_is_stale()

    def rows(self, name, rows):
        self.content[name].extend(rows)
        self.catalog_is_stale()

    def catalog_is_stale(self):
        if self.catalog is not None:
            self.call("UnregisterCatalog", "UnregisterRequest", self.empty(), registered_id=self.catalog)
            self.catalog = None

    @staticmethod
    def empty():
        from google.protobuf import empty_pb2

        return empty_pb2.Empty

    def register(self):
        """Makes a catalog of the tables with their rows; queries of it are prepared much faster."""
        catalog = self.simple_catalog(name="ferry", builtin_function_options=self.builtin)
        content = {}
        for name, columns in self.tables.items():
            table = catalog.table.add(name=name)
            for column in columns:
                self.set_type(table.column.add(name=column["name"]).type, column["type"])
            rows = content[name] = self.service.TableContent()
            # A table without rows has its content set too.
            rows.table_data.SetInParent()
            for row in self.content[name]:
                made = rows.table_data.row.add()
                for value, column in zip(row, columns):
                    made.cell.append(self.value(value, column["type"]))
        self.catalog = self.call(
            "RegisterCatalog", "RegisterCatalogRequest", self.service.RegisterResponse, simple_catalog=catalog, table_content=content
        ).registered_id

    def set_type(self, made, neutral):
        if neutral.startswith("array of "):
            made.type_kind = self.kinds.TYPE_ARRAY
            self.set_type(made.array_type.element_type, neutral[len("array of ") :])
        else:
            made.type_kind = getattr(self.kinds, f"TYPE_{kind_of(neutral)}")

    def value(self, value, neutral):
        made = self.values.ValueProto()
        if value is None:
            return made
        if neutral.startswith("array of "):
            made.array_value.SetInParent()
            for item in value:
                made.array_value.element.append(self.value(item, neutral[len("array of ") :]))
            return made
        kind = kind_of(neutral)
        if kind == "INT64":
            made.int64_value = int(value)
        elif kind == "NUMERIC":
            made.numeric_value = to_bytes(scaled_up(value, 9))
        elif kind == "BIGNUMERIC":
            made.bignumeric_value = to_bytes(scaled_up(value, 38))
        elif kind == "DOUBLE":
            made.double_value = float(value)
        elif kind == "BOOL":
            made.bool_value = bool(value)
        elif kind == "DATE":
            made.date_value = ((value.date() if isinstance(value, datetime.datetime) else value) - EPOCH).days
        elif kind == "TIME":
            made.time_value = clock(value) << 30 | value.microsecond * 1000
        elif kind == "DATETIME":
            when = value if isinstance(value, datetime.datetime) else datetime.datetime.combine(value, datetime.time())
            day = when.year << 9 | when.month << 5 | when.day
            made.datetime_value.bit_field_datetime_seconds = day << 17 | clock(when)
            made.datetime_value.nanos = when.microsecond * 1000
        elif kind == "TIMESTAMP":
            made.timestamp_value.FromDatetime(value)
        elif kind == "BYTES":
            made.bytes_value = value
        else:
            made.string_value = value if isinstance(value, str) else str(value)
        return made

    # --- queries -----------------------------------------------------------------------------------

    def query(self, sql, most):
        if self.catalog is None:
            self.register()
        response = self.service
        prepared = self.call(
            "PrepareQuery", "PrepareQueryRequest", response.PrepareQueryResponse, sql=sql, options=self.options, registered_catalog_id=self.catalog
        ).prepared
        number = prepared.prepared_query_id
        try:
            content = self.call("EvaluateQuery", "EvaluateQueryRequest", response.EvaluateQueryResponse, prepared_query_id=number).content
        finally:
            self.call("UnprepareQuery", "UnprepareQueryRequest", self.empty(), prepared_query_id=number)
        types = [column.type for column in prepared.columns]
        columns = named([(re.sub(r"^\$.*", "", c.name), self.type_name(c.type)) for c in prepared.columns])
        rows = ([self.read(cell, t) for cell, t in zip(row.cell, types)] for row in content.table_data.row)
        return columns, rows, list

    def type_name(self, t):
        word = self.kinds.TypeKind.Name(t.type_kind)[len("TYPE_") :]
        if word == "ARRAY":
            return f"ARRAY<{self.type_name(t.array_type.element_type)}>"
        if word == "STRUCT":
            fields = (f"{f.field_name} {self.type_name(f.field_type)}".strip() for f in t.struct_type.field)
            return f"STRUCT<{', '.join(fields)}>"
        return NAMES.get(word, word)

    def read(self, cell, t):
        """A value of the evaluator as Python's; `ferry_bridge` writes those."""
        which = cell.WhichOneof("value")
        if which is None:
            return None
        value = getattr(cell, which)
        if which == "array_value":
            return [self.read(item, t.array_type.element_type) for item in value.element]
        if which == "struct_value":
            fields = zip(t.struct_type.field, value.field)
            return Wire({"struct": [[f.field_name, to_wire(self.read(item, f.field_type))] for f, item in fields]})
        if which in READERS:
            return READERS[which](value)
        return value


def named(columns):
    """Columns without a name are f0_, f1_ and so on in BigQuery."""
    count, made = 0, []
    for name, kind in columns:
        if not name:
            name, count = f"f{count}_", count + 1
        made.append((name, kind))
    return made


def kind_of(neutral):
    """The evaluator's kind for a neutral type. NUMERIC has 29 digits before the point and 9 behind it."""
    decimal_size = re.fullmatch(r"decimal\((\d+),(-?\d+)\)", neutral)
    if decimal_size:
        precision, scale = int(decimal_size[1]), int(decimal_size[2])
        return "NUMERIC" if scale <= 9 and precision - scale <= 29 else "BIGNUMERIC"
    return TYPES.get(neutral, "STRING")


def scaled_up(value, places):
    with decimal.localcontext() as context:
        context.prec = 100
        return int(decimal.Decimal(value).scaleb(places).to_integral_value())


def clock(value):
    return value.hour << 12 | value.minute << 6 | value.second


def from_clock(bits, nanos):
    return datetime.time(bits >> 12 & 31, bits >> 6 & 63, bits & 63, nanos // 1000)


def to_bytes(number):
    """Two's complement, the least byte first, as few bytes as hold it."""
    return number.to_bytes((number.bit_length() + 8) // 8, "little", signed=True)


def scaled(value, places):
    number = int.from_bytes(value, "little", signed=True)
    with decimal.localcontext() as context:
        context.prec = 100
        plain = decimal.Decimal(number).scaleb(-places).normalize()
        return plain.quantize(decimal.Decimal(1)) if plain == plain.to_integral_value() else plain


def from_datetime(value):
    bits = value.bit_field_datetime_seconds
    day = bits >> 17
    return datetime.datetime.combine(datetime.date(day >> 9, day >> 5 & 15, day & 31), from_clock(bits & 0x1FFFF, value.nanos))


class Wire:
    """A value that Python has no type for: an interval with months, a struct with fields of one name."""

    def __init__(self, wire):
        self.wire = wire


def from_interval(value):
    micros = int.from_bytes(value[:8], "little", signed=True)
    days = int.from_bytes(value[8:12], "little", signed=True)
    packed = int.from_bytes(value[12:16], "little", signed=False)
    # Months are above, nanoseconds below; the sign stands at the top. (interval_value.h)
    months, nanos = packed >> 13 & 0x3FFFF, packed & 0x3FF
    months = -months if packed >> 31 else months
    return Wire({"interval": [months, days, micros * 1000 + nanos]})


READERS = {
    "date_value": lambda days: EPOCH + datetime.timedelta(days=days),
    "time_value": lambda bits: from_clock(bits >> 30, bits & 0x3FFFFFFF),
    "datetime_value": from_datetime,
    "timestamp_value": lambda v: v.ToDatetime(tzinfo=datetime.timezone.utc),
    "numeric_value": lambda v: scaled(v, 9),
    "bignumeric_value": lambda v: scaled(v, 38),
    "interval_value": from_interval,
}


if __name__ == "__main__":
    serve(GoogleSql())
