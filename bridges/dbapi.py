#!/usr/bin/env python3
"""A bridge for any Python DB-API 2 driver (PEP 249).

    bridge:python3 bridges/dbapi.py MODULE [NAME=VALUE]...?dialect=DIALECT

MODULE is the driver's module, the rest are the arguments of its `connect`: numbers and true or false are
taken as such, `${NAME}` is taken from the environment, so that no secret stands on a command line.

    bridge:python3 bridges/dbapi.py oracledb user=warden 'password=${WEIR_PASSWORD}' dsn=weir/tarn?dialect=oracle
    bridge:python3 bridges/dbapi.py pymssql server=weir user=warden 'password=${WEIR_PASSWORD}'?dialect=sqlserver
"""

import importlib
import os
import re
import sys

from ferry_bridge import Engine, Failure, serve

LARGE_FETCH = 1000


def argument(text):
    """`name=value` as a pair."""
    name, mark, value = text.partition("=")
    if not mark:
        raise SystemExit(f"'{text}' is no argument of connect: write NAME=VALUE")

    def from_environment(match):
        if match[1] not in os.environ:
            raise SystemExit(f"the argument {name} asks for ${{{match[1]}}}, and the environment has no {match[1]}")
        return os.environ[match[1]]

    filled = re.sub(r"\$\{(\w+)\}", from_environment, value)
    if filled == value:
        if value in ("true", "false"):
            return name, value == "true"
        if re.fullmatch(r"-?\d+", value):
            return name, int(value)
    return name, filled


class DbApi(Engine):
    def __init__(self, module, arguments):
        self.module_name, self.arguments = module, arguments
        self.module = self.connection = None

    def open(self, writes):
        try:
            self.module = importlib.import_module(self.module_name)
        except ImportError as error:
            raise Failure(f"Python has no module {self.module_name} ({error}); install the driver for {sys.executable}", "unreachable")
        try:
            self.connection = self.module.connect(**self.arguments)
        except self.module.Error as error:
            text = str(error).strip()
            refused = re.search(r"password|access denied|authentication|login failed|ORA-01017", text, re.IGNORECASE)
            raise Failure(text, "password" if refused else "unreachable", code_of(error))
        except TypeError as error:
            raise Failure(f"{self.module_name}.connect: {error}", "unreachable")
        # Each statement is a transaction of its own, where the driver lets it.
        for switch in (lambda: self.connection.autocommit(True), lambda: setattr(self.connection, "autocommit", True)):
            try:
                switch()
                break
            except (TypeError, AttributeError, self.module.Error):
                continue
        version = getattr(self.module, "__version__", "").split(" ")[0]
        return {"engine": f"{self.module_name} {version}".strip(), "loads": "sql"}

    def query(self, sql, most):
        cursor = self.connection.cursor()
        try:
            cursor.execute(sql)
        except self.module.Error as error:
            closed = getattr(self.connection, "closed", 0)
            raise Failure(str(error).strip(), "lost" if closed else "query", code_of(error))
        if cursor.description is None:
            self.commit()
            return [], [], list
        columns = [(column[0], self.type_name(column[1])) for column in cursor.description]
        return columns, self.fetch(cursor, most), lambda: self.warnings(cursor)

    def fetch(self, cursor, most):
        left = most
        try:
            while left is None or left > 0:
                rows = cursor.fetchmany(LARGE_FETCH if left is None else min(LARGE_FETCH, left))
                if not rows:
                    break
                left = None if left is None else left - len(rows)
                yield from rows
        except self.module.Error as error:
            raise Failure(str(error).strip(), "query", code_of(error))
        finally:
            cursor.close()
            self.commit()

    def commit(self):
        try:
            self.connection.commit()
        except self.module.Error:
            pass  # In autocommit some drivers have nothing to commit, and say so.

    def type_name(self, code):
        for word in ("STRING", "BINARY", "NUMBER", "DATETIME", "ROWID"):
            if getattr(self.module, word, None) == code:
                return word.lower()
        name = getattr(code, "name", None) or getattr(code, "__name__", None)
        return str(name if name is not None else "" if code is None else code)

    def warnings(self, cursor):
        """PEP 249's optional `messages`: pairs of a class and a value."""
        return [{"code": None, "message": str(value), "spoils": False} for _, value in getattr(cursor, "messages", [])]

    def cancel(self):
        cancel = getattr(self.connection, "cancel", None) or getattr(self.connection, "interrupt", None)
        if cancel:
            cancel()

    def close(self):
        if self.connection is not None:
            try:
                self.connection.close()
            except self.module.Error:
                pass


def code_of(error):
    """The code of a driver's error, wherever it keeps it."""
    for name in ("sqlstate", "pgcode"):
        if getattr(error, name, None):
            return str(getattr(error, name))
    first = error.args[0] if error.args else None
    if getattr(first, "full_code", None):
        return first.full_code
    return str(first) if isinstance(first, int) else None


if __name__ == "__main__":
    if len(sys.argv) < 2 or sys.argv[1] in ("-h", "--help"):
        raise SystemExit(__doc__)
    serve(DbApi(sys.argv[1], dict(argument(a) for a in sys.argv[2:])))
