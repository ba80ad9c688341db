"""The worker processes of the server: nobody holds a connection who says nothing, and nobody holds
all of them. No Django here.
"""

import gc
import io
from collections import Counter
from contextlib import contextmanager
from itertools import count

import gevent
from gevent.event import Event
from gevent.queue import PriorityQueue
from gunicorn.workers.ggevent import GeventWorker

from chimney import turns

# A browser opens six, a household a few dozens; more at once from one address are closed.
MOST_OF_ONE_ADDRESS = 100
# What is sent with a request has so long to come, and as much longer as a slow line needs. That is
# longer than any answer may take, so that none is cut off that was only long to reckon.
BODY_S, SLOW_BYTES_PER_S = 150.0, 10_000
# Where more connections than a browser's are open here, each is for one answer: who asks next may
# be answered by a process that is free, and nobody stands before those who only come.
FEW = 6
# The loop looks at the door so long before it says whose turn is next.
PAUSE_S = 0.001
# Who taps at a hole or in the dark room has a clock that runs: that goes before all pages.
TAPPED, PLANNED = ("/expose/", "/develop/"), "/plan/"
# What brings more than a form comes slowly, and waits for no turn.
MOST_FORM_BYTES = 1_000_000
# The generations of objects that an answer makes.
YOUNG = 1


class Worker(GeventWorker):
    """Serves one answer at a time, and waits for many."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.held = Counter()

    def handle(self, listener, client, addr):
        """Answer what comes over a connection; how long it may be silent is said by keepalive."""
        address = addr[0] if addr else ""
        if self.held[address] >= MOST_OF_ONE_ADDRESS:
            client.close()
            return
        self.held[address] += 1
        try:
            super().handle(listener, client, addr)
        finally:
            self.held[address] -= 1
            if not self.held[address]:
                del self.held[address]

    def load_wsgi(self):
        super().load_wsgi()
        self.wsgi = Turns(self.wsgi)

    def handle_request(self, listener_name, req, sock, addr):
        """Answer one request, if all of it comes in time."""
        if sum(self.held.values()) > FEW:
            req.headers.insert(0, ("CONNECTION", "close"))
        length = _length(req)
        limit_s = BODY_S + length / SLOW_BYTES_PER_S if length else None
        try:
            with gevent.Timeout(limit_s):
                super().handle_request(listener_name, req, sock, addr)
        finally:
            # It ends by an exception where the connection does. A template and what it showed keep
            # each other alive, arrays of a year too.
            gc.collect(YOUNG)

    def handle_error(self, req, client, addr, exc):
        """Whoever was too slow is left without a word."""
        if not isinstance(exc, gevent.Timeout):
            super().handle_error(req, client, addr, exc)


class Turns:
    """An application that makes one answer at a time: taps first, then as they came."""

    def __init__(self, application):
        self.application, self.waiting, self.number = application, PriorityQueue(), count()
        gevent.spawn(self._one_by_one)

    def __call__(self, environ, start_response):
        """The answer of the application, in its turn."""
        length = int(environ.get("CONTENT_LENGTH") or 0)
        if length > MOST_FORM_BYTES or "HTTP_TRANSFER_ENCODING" in environ:
            return self.application(environ, start_response)
        # What is still to come is waited for before the turn, not in it.
        environ["wsgi.input"] = io.BytesIO(environ["wsgi.input"].read(length))
        turn = _Turn(self.waiting, not is_tap(environ), self.number)
        token = turns.left.set(turn.left)
        try:
            with turn:
                return self.application(environ, start_response)
        finally:
            turns.left.reset(token)

    def _one_by_one(self):
        while True:
            self.waiting.peek()
            gevent.sleep(PAUSE_S)
            *_, begin, end = self.waiting.get()
            begin.set()
            end.wait()


class _Turn:
    """A place among those who wait, which is taken as often as it is entered."""

    def __init__(self, waiting, rank, number):
        self.waiting, self.rank, self.number, self.end = waiting, rank, number, None

    def __enter__(self):
        begin, self.end = Event(), Event()
        self.waiting.put((self.rank, next(self.number), begin, self.end))
        try:
            begin.wait()
        except BaseException:
            self.end.set()
            raise

    def __exit__(self, *error):
        self.end.set()

    @contextmanager
    def left(self):
        """While it is left, others are answered."""
        self.end.set()
        try:
            yield
        finally:
            self.__enter__()


def is_tap(environ):
    """True of what somebody taps while a clock runs, or to set one going: at a plan what is sent,
    not what is asked again while one types.
    """
    path = environ["PATH_INFO"]
    sent = path.startswith(PLANNED) and "HTTP_HX_REQUEST" not in environ
    return environ["REQUEST_METHOD"] == "POST" and (sent or path.startswith(TAPPED))


def _length(req):
    """Number of bytes that a request says it brings; a few for one that does not say."""
    headers = dict(req.headers)
    text = headers.get("CONTENT-LENGTH", "1" if "TRANSFER-ENCODING" in headers else "")
    return int(text) if text.isascii() and text.isdecimal() else 0
