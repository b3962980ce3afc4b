"""The output of a Wayland session that shows the game: the last output entered by the window in front."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Final

from pywayland.client import Display
from pywayland.protocol.wayland import WlOutput

from nub_shift.front.foreign_toplevel import ACTIVATED, ToplevelManager

# First protocol version with an output's name, which Qt uses for its screens, too.
_NAMED_VERSION: Final = 4


@dataclass(eq=False)
class Output:
    """An output with the compositor's number."""

    number: int
    proxy: Any
    name: str = ""


@dataclass(eq=False)
class _Window:
    """A window with its outputs, in the order in which it entered them."""

    outputs: list[Output] = field(default_factory=list)
    active: bool = False
    proxy: Any = None


class GameOutputs:
    """Tracks the outputs and the windows of a compositor.

    Attributes:
        of_game: output of the window in front; None if unknown.
        count: number of changes of the outputs, or of the game's output.
    """

    def __init__(self) -> None:
        self.of_game: Output | None = None
        self.count = 0
        self._outputs: list[Output] = []
        self._windows: list[_Window] = []
        self._closed: list[Any] = []  # destroyed after their event
        self._manager: Any = None

    def take_global(self, registry: Any, number: int, interface: str, version: int) -> None:
        """Binds the needed globals of the compositor."""
        if interface == WlOutput.name:
            output = Output(number, registry.bind(number, WlOutput, min(version, _NAMED_VERSION)))
            output.proxy.dispatcher["name"] = lambda _proxy, name: setattr(output, "name", name)
            self._outputs.append(output)
            self.count += 1
        elif interface == ToplevelManager.name:
            self._manager = registry.bind(number, ToplevelManager, 1)
            self._manager.dispatcher["toplevel"] = self._on_window

    def drop_global(self, _registry: Any, number: int) -> None:
        """Removes an output that has gone."""
        gone = [output for output in self._outputs if output.number == number]
        for output in gone:
            self._outputs.remove(output)
            for window in self._windows:
                window.outputs = [other for other in window.outputs if other is not output]
            self.count += 1
        self._find()

    def settle(self, display: Display) -> None:
        """Destroys what has gone; called between events."""
        while self._closed:
            self._closed.pop().destroy()
        display.flush()

    def _find(self) -> None:
        front = next((window for window in self._windows if window.active and window.outputs), None)
        if front is not None:
            found: Output | None = front.outputs[-1]
        else:  # the desktop is in front, or the game is changing outputs
            found = self.of_game if self.of_game in self._outputs else None
        if found is not self.of_game:
            self.of_game = found
            self.count += 1

    def _on_window(self, _manager: Any, proxy: Any) -> None:
        window = _Window(proxy=proxy)
        self._windows.append(window)

        def on_state(_proxy: Any, states: bytes) -> None:
            window.active = ACTIVATED in memoryview(states).cast("I")

        def on_enter(_proxy: Any, seen_on: Any) -> None:
            window.outputs += [output for output in self._outputs if output.proxy == seen_on]

        def on_leave(_proxy: Any, seen_on: Any) -> None:
            window.outputs = [output for output in window.outputs if output.proxy != seen_on]

        def on_closed(_proxy: Any) -> None:
            self._windows.remove(window)
            self._closed.append(proxy)
            self._find()

        acts = {"state": on_state, "output_enter": on_enter, "output_leave": on_leave, "closed": on_closed}
        for event, act in acts.items():
            proxy.dispatcher[event] = act
        proxy.dispatcher["done"] = lambda _proxy: self._find()
