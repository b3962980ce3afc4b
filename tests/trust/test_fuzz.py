"""Bytes at random, and samples with random damage, into whatever reads a stranger's bytes."""

from __future__ import annotations

import os
from collections.abc import Callable

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.trust.targets import TARGETS

ROUNDS = 20_000 if os.environ.get("NUB_SHIFT_LONG") else 150
ODD = (b"\n", b"=", b"[", b"[[", b'"', b"\x00", b"\xff", b"1e308", b"-0", b"9" * 30, b"{", b"#", b"\xe2\x80\xae", b",")


@st.composite
def damaged(draw: st.DrawFn, samples: tuple[bytes, ...]) -> bytes:
    """A sample with parts cut out, doubled, moved, or replaced by something odd."""
    data = bytearray(draw(st.sampled_from(samples)))
    for _ in range(draw(st.integers(0, 6))):
        start = draw(st.integers(0, len(data)))
        end = min(len(data), start + draw(st.integers(0, 40)))
        part = draw(st.one_of(st.binary(max_size=8), st.sampled_from(ODD), st.just(bytes(data[start:end]) * 2)))
        data[start:end] = part
    return bytes(data)


@pytest.mark.parametrize(("target", "samples"), TARGETS.items(), ids=[target.__name__ for target in TARGETS])
def test_no_bytes_bring_down_what_reads_them(target: Callable[[bytes], None], samples: tuple[bytes, ...]) -> None:
    @settings(max_examples=ROUNDS, suppress_health_check=list(HealthCheck))
    @given(data=st.one_of(st.binary(max_size=400), damaged(samples)))
    def test(data: bytes) -> None:
        target(data)

    test()
