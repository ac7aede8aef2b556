"""Senders that are slow, endless or do not say how much comes, against a real server."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import socket
import subprocess
import sys
import time
from typing import ClassVar
from unittest import TestCase

from serving.request_head import LONGEST_BODY, LONGEST_FILE, RequestSize, UnmeasuredError, request_size

HEAD = b"POST /api/v1/x HTTP/1.1\r\nHost: x\r\n"


class RequestSizeTest(TestCase):
    """How long a request is going to be."""

    def test_a_request_is_measured_once_its_head_is_whole(self) -> None:
        self.assertIsNone(request_size(HEAD + b"Content-Length: 3\r\n"))
        whole = HEAD + b"content-LENGTH:  12 \r\n\r\n"
        self.assertEqual(request_size(whole + b"abc"), RequestSize(len(whole), 12, LONGEST_BODY))
        self.assertEqual(request_size(b"GET / HTTP/1.1\r\n\r\n"), RequestSize(18, 0, LONGEST_BODY))

    def test_the_larger_of_two_lengths_counts(self) -> None:
        size = request_size(HEAD + b"Content-Length: 3\r\nContent-Length: 99999999\r\n\r\n")
        self.assertTrue(size is not None and size.is_too_large)

    def test_files_of_ingredients_may_be_larger_than_anything_else(self) -> None:
        length = b"Content-Length: 5000000\r\n\r\n"
        file = request_size(b"POST /api/v1/kitchens/x/ingredient-files?apply=true HTTP/1.1\r\n" + length)
        other = request_size(b"POST /api/v1/kitchens/x/mixes?of=/ingredient-files HTTP/1.1\r\n" + length)
        assert file is not None and other is not None
        self.assertEqual((file.most, file.is_too_large, other.is_too_large), (LONGEST_FILE, False, True))

    def test_a_body_in_chunks_has_no_length(self) -> None:
        with self.assertRaises(UnmeasuredError):
            request_size(HEAD + b"Transfer-Encoding: chunked\r\n\r\n")


class GatheringWorkerTest(TestCase):
    """One worker with two threads."""

    port: ClassVar[int]

    @classmethod
    def setUpClass(cls) -> None:
        listening = socket.create_server(("127.0.0.1", 0))
        cls.addClassCleanup(listening.close)
        cls.port = listening.getsockname()[1]
        server = subprocess.Popen(
            [sys.executable, "-m", "gunicorn", "serving.tests.small_server:application", "--bind",
             f"fd://{listening.fileno()}", "-k", "serving.tests.small_server.ImpatientWorker", "--threads", "2",
             "--no-control-socket", "--log-level", "critical"],
            pass_fds=[listening.fileno()], env=dict(os.environ),
        )  # fmt: skip
        cls.addClassCleanup(server.wait)
        cls.addClassCleanup(server.terminate)

    def connect(self, *parts: bytes) -> socket.socket:
        connection = socket.create_connection(("127.0.0.1", self.port), timeout=20)
        self.addCleanup(connection.close)
        for part in parts:
            connection.sendall(part)
        return connection

    def answer(self, connection: socket.socket) -> tuple[int, str]:
        response = http.client.HTTPResponse(connection)
        response.begin()
        body = response.read()
        kind = json.loads(body)["type"] if response.status >= 400 else body.decode()
        return response.status, kind

    def whole(self, length: int = 3) -> tuple[int, str]:
        head = HEAD + f"Content-Length: {length}\r\n\r\n".encode()
        return self.answer(self.connect(head, b"x" * length))

    def test_whole_requests_are_answered_also_several_on_one_connection_and_byte_by_byte(self) -> None:
        self.assertEqual(self.whole(), (200, "3"))
        self.assertEqual(self.whole(LONGEST_BODY), (200, str(LONGEST_BODY)))
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
        for length in (1, 70_000, 0):
            connection.request("POST", "/", b"y" * length)
            self.assertEqual(connection.getresponse().read(), str(length).encode())
        connection.close()
        request = HEAD + b"Content-Length: 2\r\n\r\nzz"
        self.assertEqual(self.answer(self.connect(*(request[at : at + 1] for at in range(len(request))))), (200, "2"))

    def test_slow_senders_hold_nobody_up(self) -> None:
        self.whole()
        slow = [self.connect(HEAD) for _ in range(20)] + [self.connect() for _ in range(20)]
        slow += [self.connect(HEAD + b"Content-Length: 99\r\n\r\n", b"a") for _ in range(10)]
        self.assertEqual(self.whole(), (200, "3"))
        self.assertEqual(self.answer(slow[0]), (408, "/problems/too-slow"))

    def test_one_that_trickles_has_no_more_time_than_others(self) -> None:
        connection = self.connect(HEAD + b"Content-Length: 9999\r\n\r\n")
        until = time.monotonic() + 15
        with contextlib.suppress(OSError):
            while time.monotonic() < until:
                connection.sendall(b"a")
                time.sleep(0.1)
        self.assertLess(time.monotonic(), until)

    def test_more_than_can_be_gathered_at_once_makes_the_oldest_give_way(self) -> None:
        idle = [self.connect() for _ in range(80)]
        self.assertEqual(self.whole(), (200, "3"))
        self.assertEqual(idle[0].recv(1), b"")

    def test_what_is_too_large_or_unmeasured_is_refused_before_it_comes(self) -> None:
        large = HEAD + f"Content-Length: {LONGEST_BODY + 1}\r\n\r\n".encode()
        self.assertEqual(self.answer(self.connect(large)), (413, "/problems/too-large"))
        chunked = HEAD + b"Transfer-Encoding: chunked\r\n\r\n"
        self.assertEqual(self.answer(self.connect(chunked)), (411, "/problems/length-missing"))
        self.assertEqual(self.answer(self.connect(HEAD + b"X: " + b"x" * 40_000))[0], 431)
        two = HEAD + b"Content-Length: 1\r\n\r\na" + HEAD
        self.assertEqual(self.answer(self.connect(two))[0], 400)
