"""A made-up game, as a process: a window with a class, a title and a process id, that says which keys it gets."""

from __future__ import annotations

import os
import select
import sys

from Xlib import X, Xatom, display


def main(kind: str, title: str, full: bool = False) -> None:
    """Shows the window; a line on standard input is its next title, the end of that its end."""
    connection = display.Display()
    root = connection.screen().root
    mask = X.KeyPressMask | X.KeyReleaseMask
    white = connection.screen().white_pixel  # without a ground it would be shown nowhere but on a bare X server
    window = root.create_window(0, 0, 300, 200, 0, X.CopyFromParent, background_pixel=white, event_mask=mask)
    window.set_wm_class(kind, kind.title())
    window.set_wm_name(title)
    window.change_property(connection.intern_atom("_NET_WM_PID"), Xatom.CARDINAL, 32, [os.getpid()])
    if full:
        states = [connection.intern_atom("_NET_WM_STATE_FULLSCREEN")]
        window.change_property(connection.intern_atom("_NET_WM_STATE"), Xatom.ATOM, 32, states)
    window.map()
    connection.sync()
    print(window.id, flush=True)
    while True:
        for _ in range(connection.pending_events()):
            event = connection.next_event()
            if event.type in (X.KeyPress, X.KeyRelease):
                print("down" if event.type == X.KeyPress else "up", event.detail, flush=True)
        if sys.stdin in select.select([sys.stdin, connection.fileno()], [], [])[0]:
            line = sys.stdin.readline().rstrip("\n")
            if not line:
                return
            window.set_wm_name(line)
            connection.sync()


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2], full="full" in sys.argv[3:])
