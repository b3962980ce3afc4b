"""Generators of chance for property tests."""

from __future__ import annotations

import os
from random import Random

from hypothesis import strategies as st

# In a hunt for faults hypothesis draws each number, and so looks for the smallest example that fails; to draw the seed
# alone is several times as fast.
chances: st.SearchStrategy[Random] = (
    st.randoms(use_true_random=False) if os.environ.get("NUB_SHIFT_HUNT") else st.integers(0, 2**64 - 1).map(Random)
)
