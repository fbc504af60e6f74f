"""One program for all windows, where that is wanted: a second start hands its file to the first and ends.

The first listens on a local socket that only its own account may use; the second writes one line of JSON and waits for
an answer. No one listening, or no answer: the second opens a window itself.
"""

import hashlib
import json
import os
import socket as socket_module
import struct
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject
from PySide6.QtNetwork import QLocalServer, QLocalSocket

WAIT_MS, GREET_MS = 3000, 200
LONGEST_BYTES = 20_000
# Credentials of the peer: process, user and group.
CREDENTIALS = struct.Struct("3i")


def address() -> str | None:
    """Return the socket's path: one for each account and each place it keeps its state; None without a private folder.

    Only the account's own runtime folder will do: in a folder that others may write to, anyone can listen first.
    """
    from platformdirs import user_state_path

    folder = Path(os.environ.get("XDG_RUNTIME_DIR", ""))
    try:
        found = folder.stat()
    except (OSError, ValueError):
        return None
    if not folder.is_absolute() or found.st_uid != os.getuid() or found.st_mode & 0o077:
        return None
    kept = hashlib.sha256(os.fsencode(user_state_path("far-rail"))).hexdigest()[:12]
    return f"{folder}/far-rail-{kept}"


def same_account(socket: QLocalSocket) -> bool:
    """Whether the other end of a connection belongs to this account."""
    try:
        with socket_module.socket(fileno=os.dup(int(socket.socketDescriptor()))) as other:
            told = other.getsockopt(socket_module.SOL_SOCKET, socket_module.SO_PEERCRED, CREDENTIALS.size)
    except OSError:
        return False
    _, user, _ = CREDENTIALS.unpack(told)
    return bool(user == os.getuid())


def handed_over(file: str) -> bool:
    """Hand a file to the program that is running; returns whether it took it.

    Args:
        file: what is to be opened; "" for the first page.
    """
    at = address()
    if at is None:
        return False
    socket = QLocalSocket()
    socket.connectToServer(at)
    if not socket.waitForConnected(WAIT_MS) or not same_account(socket):
        return False
    path = str(Path(file).absolute()) if file else ""
    told = json.dumps({"open": path, "token": os.environ.get("XDG_ACTIVATION_TOKEN", "")})
    socket.write(f"{told}\n".encode())
    socket.flush()
    while not socket.canReadLine():
        if not socket.waitForReadyRead(WAIT_MS):
            return False
    return bytes(socket.readLine().data()).strip() == b"taken"


class Listening(QObject):
    """Hears what further starts hand over."""

    def __init__(self, show: Callable[[Path | None], object], parent: QObject) -> None:
        """Listen, unless another program of this account does already."""
        super().__init__(parent)
        self._show = show
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        self._server.newConnection.connect(self._greet)
        # Listening takes the place of whoever listens: one that lives keeps it, what a killed one left is swept away.
        at = address()
        if at is None:
            return
        living = QLocalSocket()
        living.connectToServer(at)
        if not living.waitForConnected(GREET_MS):
            QLocalServer.removeServer(at)
            self._server.listen(at)
        living.abort()

    @property
    def heard(self) -> bool:
        """Whether this is the program others hand to."""
        return self._server.isListening()

    def _greet(self) -> None:
        socket = self._server.nextPendingConnection()
        if socket is not None and not same_account(socket):
            socket.abort()
        elif socket is not None:
            socket.setParent(self)
            socket.readyRead.connect(lambda: self._hear(socket))
            socket.disconnected.connect(socket.deleteLater)

    def _hear(self, socket: QLocalSocket) -> None:
        if not socket.canReadLine():
            if socket.bytesAvailable() > LONGEST_BYTES:
                socket.abort()
            return
        try:
            told = json.loads(bytes(socket.readLine(LONGEST_BYTES).data()))
            path, token = str(told["open"]), str(told.get("token", ""))
        except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
            socket.abort()
            return
        if "\0" in path or "\0" in token:
            socket.abort()
            return
        socket.write(b"taken\n")
        socket.flush()
        if token:
            # With it the desktop lets the window come to the front.
            os.environ["XDG_ACTIVATION_TOKEN"] = token
        self._show(Path(path) if path else None)
