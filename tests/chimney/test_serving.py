"""Turns of those who ask a process at once, and connections that it keeps open between them."""

import gc
import io
import sqlite3
import weakref
from collections import Counter
from contextlib import closing, suppress
from itertools import permutations
from pathlib import Path
from types import SimpleNamespace
from unittest.mock import patch

import gevent
from django.db import connection, connections, transaction
from django.test import SimpleTestCase, TransactionTestCase
from gevent.event import Event
from gunicorn.workers.ggevent import GeventWorker

from chimney import turns
from chimney.kit.models import Developer
from chimney.parts.sqlite import base
from chimney.serving import MOST_FORM_BYTES, Turns, Worker

PAGE, LIVE = ("GET", "/plan/", {}), ("POST", "/plan/", {"HTTP_HX_REQUEST": "true"})
TAP, OPENED = ("POST", "/expose/3/close/", {}), ("POST", "/plan/outings/1/shot/2/", {})


class SlowLine(io.BytesIO):
    """A body that comes when it is let."""

    def __init__(self, body):
        super().__init__(body)
        self.comes = Event()

    def read(self, *size):
        self.comes.wait()
        return super().read(*size)


class WhoGoesFirst(SimpleTestCase):
    def setUp(self):
        self.begun, self.at_once = [], 0

        def application(environ, start_response):
            self.at_once += 1
            self.begun.append(environ["name"])
            self.assertEqual(self.at_once, 1)
            gevent.sleep(0.01)
            self.at_once -= 1
            if environ.get("rests"):
                turns.let_others(0.05)
                self.begun.append("rested")
            if environ.get("breaks"):
                raise ValueError
            return environ["wsgi.input"].read()

        self.turns = Turns(application)
        # Who breaks here does so on purpose.
        hub = gevent.get_hub()
        self.addCleanup(setattr, hub, "exception_stream", hub.exception_stream)
        hub.exception_stream = None

    def ask(self, name, request, body=b"", **more):
        """A greenlet of somebody who asks."""
        method, path, headers = request
        environ = {"REQUEST_METHOD": method, "PATH_INFO": path, "name": name, **headers, **more}
        environ |= {"CONTENT_LENGTH": str(len(body))}
        environ.setdefault("wsgi.input", io.BytesIO(body))
        return gevent.spawn(self.turns, environ, None)

    def begin(self, name, request, **more):
        """A greenlet of somebody whose answer is under way."""
        greenlet = self.ask(name, request, **more)
        while name not in self.begun:
            gevent.sleep(0.001)
        return greenlet

    def test_taps_go_before_pages_and_each_in_its_order(self):
        asked = {"page": PAGE, "live": LIVE, "tap": TAP, "hole": OPENED}
        for order in permutations(asked):
            self.begun.clear()
            first = self.begin("first", PAGE)
            gevent.joinall([first, *(self.ask(name, asked[name]) for name in order)], timeout=5)
            taps = [name for name in order if name in ("tap", "hole")]
            pages = [name for name in order if name in ("page", "live")]
            self.assertEqual(self.begun, ["first", *taps, *pages])

    def test_nobody_waits_for_one_who_is_gone_or_breaks_or_is_slow(self):
        with self.assertRaises(ValueError):
            self.ask("broken", PAGE, breaks=True).get(timeout=5)
        lines = [self.ask("page", PAGE), self.ask("gone", PAGE), self.ask("next", TAP)]
        line = SlowLine(b"lux=4")
        slow = self.ask("slow", TAP, b"lux=4", **{"wsgi.input": line})
        gevent.sleep(0)
        lines.pop(1).kill()
        gevent.joinall(lines, timeout=5, raise_error=True)
        self.assertEqual(self.begun, ["broken", "next", "page"])
        line.comes.set()
        self.assertEqual(slow.get(timeout=5), b"lux=4")
        self.ask("last", PAGE).get(timeout=5)

    @patch("chimney.turns.time.sleep", gevent.sleep)
    def test_who_waits_for_something_else_gives_the_turn_up(self):
        guess = self.begin("guess", PAGE, rests=True)
        gevent.joinall([self.ask("page", PAGE), guess, self.ask("next", PAGE)], timeout=5)
        self.assertEqual(self.begun, ["guess", "page", "next", "rested"])
        self.ask("last", PAGE).get(timeout=5)
        self.assertIsNone(turns.left.get())

    def test_what_is_longer_than_a_form_holds_up_nobody(self):
        body = b"x" * (MOST_FORM_BYTES + 1)
        line = SlowLine(body)
        upload = self.ask("upload", OPENED, body, **{"wsgi.input": line})
        self.turns.application = lambda environ, _: environ["wsgi.input"].read()
        page = self.ask("page", PAGE, b"a=1")
        self.assertEqual(page.get(timeout=5), b"a=1")
        line.comes.set()
        self.assertEqual(len(upload.get(timeout=5)), len(body))


class Answered(SimpleTestCase):
    def test_no_answer_stays_in_memory_however_its_connection_ends(self):
        gc.disable()
        self.addCleanup(gc.enable)
        worker = object.__new__(Worker)
        worker.held, shown = Counter(), []
        for ends in (None, StopIteration, BrokenPipeError):

            def answer(*_, ends=ends):
                page = Counter()
                page["template"] = [page]
                shown.append(weakref.ref(page))
                del page
                if ends:
                    raise ends

            request, ended = SimpleNamespace(headers=[]), suppress(StopIteration, BrokenPipeError)
            with ended, patch.object(GeventWorker, "handle_request", answer):
                worker.handle_request("", request, None, ("", 0))
            self.assertIsNone(shown[-1](), ends)
        self.assertEqual(len(shown), 3)


class KeptOpen(TransactionTestCase):
    """Connections of a process that serves, on a database on disc."""

    def setUp(self):
        connection.close()
        base.keep_open()
        self.addCleanup(setattr, base.DatabaseWrapper, "idle", None)
        self.addCleanup(base.close_all)

    def raw(self):
        connection.ensure_connection()
        return connection.connection

    def test_the_next_answer_takes_the_same(self):
        first = self.raw()
        connection.close()
        self.assertIs(self.raw(), first)
        self.assertEqual(connection.cursor().execute("PRAGMA foreign_keys").fetchone(), (1,))

    def test_what_was_broken_off_is_not_written_by_the_next(self):
        first = self.raw()
        with self.assertRaises(KeyError), transaction.atomic():
            Developer.objects.create(name="half", parts="9", usual_s=90)
            connection.close()
            raise KeyError
        connection.close()
        self.assertIsNot(self.raw(), first)
        self.assertFalse(Developer.objects.filter(name="half").exists())
        connection.cursor().execute("BEGIN")
        second = connection.connection
        second.execute("UPDATE kit_developer SET name = 'left'")
        connection.close()
        self.assertFalse(self.raw().in_transaction)

    def test_a_file_that_was_put_in_its_place_is_opened(self):
        first, path = self.raw(), Path(connection.settings_dict["NAME"])
        connection.close()
        with closing(sqlite3.connect(path)) as old, closing(sqlite3.connect(f"{path}-2")) as new:
            old.backup(new)
        Path(f"{path}-2").replace(path)
        self.assertIsNot(self.raw(), first)
        with self.assertRaises(sqlite3.ProgrammingError):
            first.execute("SELECT 1")

    def test_two_at_once_have_one_each_and_all_are_closed_at_the_end(self):
        apart = connections.create_connection("default")
        self.assertIsNot(self.raw(), apart.cursor().connection)
        apart.close()
        connection.close()
        self.assertEqual(len(base.DatabaseWrapper.idle), 2)
        base.close_all()
        self.assertEqual(base.DatabaseWrapper.idle, [])
