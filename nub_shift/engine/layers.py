"""Stack of active layers, in the order of activation."""

from __future__ import annotations


class LayerStack:
    """Active layers above the base layer, which is always active.

    Attributes:
        changed: set by every change, cleared by the reader.
        staying: the layer activated to stay, 0 without one.
    """

    def __init__(self) -> None:
        self._holders: dict[int, int] = {}
        self.changed = False
        self.staying = 0

    @property
    def on(self) -> tuple[int, ...]:
        """Indexes of the active layers, the topmost last."""
        return tuple(self._holders)

    def hold(self, layer: int) -> None:
        """Adds a holder; the first holder activates the layer on top."""
        count = self._holders.get(layer, 0)
        self._holders[layer] = count + 1
        self.changed = self.changed or count == 0

    def drop(self, layer: int) -> None:
        """Removes a holder; the last one deactivates the layer."""
        count = self._holders[layer]
        if count > 1:
            self._holders[layer] = count - 1
        else:
            del self._holders[layer]
            self.changed = True

    def stay(self, layer: int) -> None:
        """Activates a layer to stay, in place of the former one; 0 only deactivates that one."""
        before, self.staying = self.staying, layer
        if layer:
            self.hold(layer)
        if before:
            self.drop(before)
