"""Which layers are on, one above another in the order in which they came on."""

from __future__ import annotations


class LayerStack:
    """The layers that are on, without the base layer, which always is.

    Attributes:
        changed: set by every change, cleared by whoever acts on it.
        staying: the layer that is on to stay, 0 if none is.
    """

    def __init__(self) -> None:
        self._holders: dict[int, int] = {}
        self.changed = False
        self.staying = 0

    @property
    def on(self) -> tuple[int, ...]:
        """Indexes of the layers that are on, the topmost last."""
        return tuple(self._holders)

    def hold(self, layer: int) -> None:
        """Adds a holder; the first one brings the layer on, on top."""
        count = self._holders.get(layer, 0)
        self._holders[layer] = count + 1
        self.changed = self.changed or count == 0

    def let_go(self, layer: int) -> None:
        """Takes a holder away; the last one ends the layer."""
        count = self._holders[layer]
        if count > 1:
            self._holders[layer] = count - 1
        else:
            del self._holders[layer]
            self.changed = True

    def stay(self, layer: int) -> None:
        """Brings a layer on to stay, in place of the one that stayed before; 0 only ends that."""
        before, self.staying = self.staying, layer
        if layer:
            self.hold(layer)
        if before:
            self.let_go(before)
