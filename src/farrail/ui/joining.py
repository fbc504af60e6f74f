"""One program for all windows, where that is wanted: a second start hands its file to the first and ends.

The first listens on a local socket that only its own account may use; the second writes one line of JSON and waits for
an answer. Nobody listening, or no answer: the second opens a window itself.
"""

import hashlib
import json
import os
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject
from PySide6.QtNetwork import QLocalServer, QLocalSocket

WAIT_MS, GREET_MS = 3000, 200
LONGEST_BYTES = 20_000


def address() -> str:
    """Return the socket's name: one for each account and each place it keeps its state."""
    from platformdirs import user_state_path

    kept = hashlib.sha256(str(user_state_path("far-rail")).encode()).hexdigest()[:12]
    return f"far-rail-{os.getuid()}-{kept}"


def handed_over(file: str) -> bool:
    """Hand a file to the program that is running; returns whether it took it.

    Args:
        file: what is to be opened; "" for the first page.
    """
    socket = QLocalSocket()
    socket.connectToServer(address())
    if not socket.waitForConnected(WAIT_MS):
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
        living = QLocalSocket()
        living.connectToServer(address())
        if not living.waitForConnected(GREET_MS):
            QLocalServer.removeServer(address())
            self._server.listen(address())
        living.abort()

    @property
    def heard(self) -> bool:
        """Whether this is the program others hand to."""
        return self._server.isListening()

    def _greet(self) -> None:
        socket = self._server.nextPendingConnection()
        if socket is not None:
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
        except (ValueError, KeyError, TypeError, AttributeError):
            socket.abort()
            return
        socket.write(b"taken\n")
        socket.flush()
        if token:
            # With it the desktop lets the window come to the front.
            os.environ["XDG_ACTIVATION_TOKEN"] = token
        self._show(Path(path) if path else None)
