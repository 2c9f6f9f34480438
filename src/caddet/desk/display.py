"""Whether there is a screen that answers, asked before Qt is: Qt ends the whole program when there is none."""

from __future__ import annotations

import ctypes
import os
import socket
import sys
from pathlib import Path

from caddet.core.errors import InputError

_WITHOUT_A_SCREEN = ("offscreen", "minimal", "minimalegl", "vnc", "linuxfb", "eglfs", "vkkhrdisplay")
_SERVERS = ("xcb", "wayland", "wayland-egl")
_COMMANDS = "The commands work without one: caddet --help."


def need_display() -> None:
    """Raise :class:`InputError` with one clear sentence when there is no screen to open a window on."""
    if not sys.platform.startswith("linux"):
        return
    wanted = [word.split(":")[0] for word in os.environ.get("QT_QPA_PLATFORM", "").split(";") if word]
    if any(word in _WITHOUT_A_SCREEN for word in wanted):
        return
    if wanted and not any(word in _SERVERS for word in wanted):
        raise InputError(f"QT_QPA_PLATFORM is “{wanted[0]}”, which is no kind of screen; unset it.", "display")
    x11, wayland = os.environ.get("DISPLAY", ""), os.environ.get("WAYLAND_DISPLAY", "")
    if not x11 and not wayland:
        raise InputError(
            "there is no screen here (neither DISPLAY nor WAYLAND_DISPLAY is set), so no window can be opened. "
            + _COMMANDS,
            "display",
        )
    may_x11 = not wanted or "xcb" in wanted
    may_wayland = not wanted or any(word.startswith("wayland") for word in wanted)
    if (may_wayland and wayland and _wayland_answers(wayland)) or (may_x11 and x11 and _x11_answers(x11)):
        return
    named = " and ".join(f"{key}={value}" for key, value in (("DISPLAY", x11), ("WAYLAND_DISPLAY", wayland)) if value)
    raise InputError(f"no screen answers at {named}, so no window can be opened. {_COMMANDS}", "display")


def _wayland_answers(name: str) -> bool:
    folder = os.environ.get("XDG_RUNTIME_DIR", "")
    path = Path(name) if name.startswith("/") else Path(folder) / name
    try:
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as one:
            one.settimeout(2.0)
            one.connect(str(path))
    except (OSError, ValueError):
        return False
    return True


def _x11_answers(name: str) -> bool:
    """Whether the X server lets us in, asked by the library that Qt itself uses."""
    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        raise InputError(
            "the window needs libxcb, which is not installed. On Debian: make setup as root.", "display"
        ) from None
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connect.argtypes = [ctypes.c_char_p, ctypes.c_void_p]
    xcb.xcb_connection_has_error.argtypes = [ctypes.c_void_p]
    xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
    connection = xcb.xcb_connect(os.fsencode(name), None)
    try:
        return bool(connection) and xcb.xcb_connection_has_error(connection) == 0
    finally:
        xcb.xcb_disconnect(connection)
