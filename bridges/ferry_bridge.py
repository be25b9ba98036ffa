"""The bridge protocol of Inland Ferry: what a bridge for an engine builds on.

A bridge is a program that reads JSON objects, one a line, on its standard input and writes such on its
standard output; docs/bridges.md describes them. This module has the loop and the values; a bridge is a
class with the methods of `Engine` below and a call of `serve`.
"""

import datetime
import decimal
import json
import math
import os
import queue
import sys
import threading
import uuid

PROTOCOL = 1
BATCH = 500


class Failure(Exception):
    """What an engine says when a statement fails. `kind`: query, password, unreachable or lost."""

    def __init__(self, message, kind="query", code=None, place=None):
        super().__init__(message)
        self.kind, self.code, self.place = kind, code, place


class Engine:
    """What a bridge has to offer."""

    def open(self, writes):
        """Connects; gives a dict with `engine` (a name for people), and `dialect`, `version` and `loads`
        ("sql": rows come by statements, "tables": by the messages table and rows) where they are known."""
        raise NotImplementedError

    def query(self, sql, most):
        """Runs a statement; gives (columns, rows, warnings): a list of (label, type), an iterator of rows,
        which may stop after `most`, and a function that gives the warnings when the rows are read."""
        raise NotImplementedError

    def clear(self):
        """Forgets the tables loaded so far."""
        raise Failure("this bridge takes no tables")

    def table(self, name, columns):
        """Makes an empty table; each column is a dict with `name` and `type`."""
        raise Failure("this bridge takes no tables")

    def rows(self, name, rows):
        """Adds rows to a table."""
        raise Failure("this bridge takes no tables")

    def cancel(self):
        """Ends the running statement; called from another thread. One that can't is killed by the caller."""

    def close(self):
        """Says goodbye to the engine."""


# --- values ----------------------------------------------------------------------------------------


def to_wire(value):
    """A Python value as the protocol has it."""
    if value is None or isinstance(value, (bool, str)):
        return value
    if isinstance(value, int):
        return value if -(2**63) <= value < 2**63 else {"decimal": str(value)}
    if isinstance(value, float):
        return value if math.isfinite(value) else {"float": str(value)}
    if isinstance(value, decimal.Decimal):
        return {"decimal": format(value, "f")} if value.is_finite() else {"float": str(value)}
    if isinstance(value, datetime.datetime):
        if value.tzinfo is None:
            return {"timestamp": value.isoformat(" ")}
        offset = value.utcoffset()
        utc = (value - offset).replace(tzinfo=None)
        return {"instant": utc.isoformat(" "), "offset": int(offset.total_seconds() // 60)}
    if isinstance(value, datetime.date):
        return {"date": value.isoformat()}
    if isinstance(value, datetime.time):
        return {"time": value.isoformat()}
    if isinstance(value, datetime.timedelta):
        micros = value.seconds * 1_000_000 + value.microseconds
        return {"interval": [0, value.days, micros * 1000]}
    if isinstance(value, (bytes, bytearray, memoryview)):
        return {"binary": bytes(value).hex()}
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, dict):
        return {"struct": [[str(k), to_wire(v)] for k, v in value.items()]}
    if isinstance(value, (list, tuple)):
        return {"array": [to_wire(v) for v in value]}
    if hasattr(value, "wire"):  # A value that Python has no type for, as its bridge writes it.
        return value.wire
    if hasattr(value, "read"):  # A large object: its driver reads it on demand.
        return to_wire(value.read())
    return str(value)


def from_wire(value):
    """A value of the protocol as Python's."""
    if not isinstance(value, dict):
        return value
    kind, content = next(iter(value.items()))
    if kind == "decimal":
        return decimal.Decimal(content)
    if kind == "float":
        return float(content)
    if kind == "date":
        return datetime.date.fromisoformat(content)
    if kind == "time":
        return datetime.time.fromisoformat(content[:15])
    if kind == "timestamp":
        return datetime.datetime.fromisoformat(content[:26])
    if kind == "instant":
        return datetime.datetime.fromisoformat(content[:26]).replace(tzinfo=datetime.timezone.utc)
    if kind == "binary":
        return bytes.fromhex(content)
    if kind == "array":
        return [from_wire(v) for v in content]
    if kind == "struct":
        return {name: from_wire(v) for name, v in content}
    return content


# --- the loop --------------------------------------------------------------------------------------


class _Line:
    """Writes messages. What libraries print goes to standard error, where it does no harm."""

    def __init__(self):
        self._out = os.fdopen(os.dup(1), "w", encoding="utf-8", newline="\n")
        os.dup2(2, 1)

    def say(self, **message):
        self._out.write(json.dumps(message, ensure_ascii=False, separators=(",", ":")) + "\n")
        self._out.flush()


def _listen(engine, inbox):
    """Reads messages; a request to cancel goes past those that wait."""
    for line in sys.stdin.buffer:
        message = json.loads(line)
        if message.get("do") == "cancel":
            engine.cancel()
        else:
            inbox.put(message)
    inbox.put({"do": "bye"})


def _query(engine, out, message):
    most = message.get("most")
    columns, rows, warnings = engine.query(message["sql"], most)
    out.say(columns=[{"name": name, "type": kind} for name, kind in columns])
    batch, sent = [], 0
    for row in rows:
        if most is not None and sent >= most:
            break
        batch.append([to_wire(v) for v in row])
        sent += 1
        if len(batch) == BATCH:
            out.say(rows=batch)
            batch = []
    if batch:
        out.say(rows=batch)
    out.say(done={"warnings": warnings()})


def _answer(engine, out, message):
    task = message.get("do")
    if task == "hello":
        if message.get("protocol") != PROTOCOL:
            raise Failure(f"this bridge speaks protocol {PROTOCOL}, not {message.get('protocol')}", kind="unreachable")
        out.say(hello={"protocol": PROTOCOL, **engine.open(bool(message.get("writes")))})
    elif task == "query":
        _query(engine, out, message)
    elif task == "clear":
        engine.clear()
        out.say(done={})
    elif task == "table":
        engine.table(message["name"], message["columns"])
        out.say(done={})
    elif task == "rows":
        engine.rows(message["table"], [[from_wire(v) for v in row] for row in message["rows"]])
        out.say(done={})
    else:
        raise Failure(f"there is no task '{task}'")


def serve(engine):
    """Answers messages until there are no more."""
    out, inbox = _Line(), queue.Queue()
    threading.Thread(target=_listen, args=(engine, inbox), daemon=True).start()
    while (message := inbox.get()).get("do") != "bye":
        try:
            _answer(engine, out, message)
        except Failure as failure:
            error = {"kind": failure.kind, "message": str(failure), "code": failure.code, "place": failure.place}
            out.say(error=error)
    engine.close()
