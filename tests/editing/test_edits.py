"""Edits of profiles: what goes with what is taken out, what comes with what is copied over."""

from __future__ import annotations

from pathlib import Path
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from nub_shift.bench.random_profiles import random_profile
from nub_shift.demo.games import GAMES, demo_profile_text
from nub_shift.editing.compare import transfer
from nub_shift.editing.document import Document
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits.removal import remove
from nub_shift.editing.words.slot_views import control_views, has_same_views
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.controls import CONTROLS
from nub_shift.model.profile.actions import Action, with_effect
from nub_shift.model.profile.effects import CarouselStep, ChooseFromRing, HoldLayer, PlaySequence, PressKeys, Silence
from nub_shift.model.profile.listed import Carousel, Ring, RingEntry
from nub_shift.model.profile.profile import BASE_LAYER, Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.model.references.effect_facts import use_references
from nub_shift.model.references.named import Kind, Reference, find
from nub_shift.model.references.walk import action_references, actions_in, map_actions, uses_in
from nub_shift.store.profile_files import format_profile, parse_profile

EVERYTHING = [
    (game, Reference(kind, named.id))
    for game in GAMES
    for kind in Kind
    for named in getattr(parse_profile(demo_profile_text(game)), kind.value)
    if named.id != BASE_LAYER
]


@pytest.mark.parametrize(("game", "gone"), EVERYTHING, ids=str)
def test_whatever_is_removed_leaves_a_sound_profile_in_which_nothing_refers_to_it(game: str, gone: Reference) -> None:
    profile = remove(parse_profile(demo_profile_text(game)), gone)
    assert find(profile, gone) is None
    assert reference_problems(profile, us_layout) == []
    left = [reference for _, action in actions_in(profile) for reference in action_references(action)]
    left += [reference for _, _, use in uses_in(profile) for reference in use_references(use)]
    assert gone not in left
    assert parse_profile(format_profile(profile)) == profile


def test_a_ring_a_carousel_and_their_slots_go_with_what_they_are_made_of() -> None:
    aim = HoldLayer("aim")
    profile = Profile(
        schema=4,
        title="T",
        layers=(
            Layer(
                id=BASE_LAYER,
                label="Base",
                slots={
                    "right_stick": Assignment.of_use(ChooseFromRing("ring")),
                    "south": Assignment.of(CarouselStep("tools")),
                    "east": Assignment.of(PressKeys(("KEY_E",)), tap=Action.of(aim)),
                },
            ),
            Layer(id="aim", label="Aim"),
        ),
        carousels=(Carousel(id="tools", label="Tools", entries=(Action.of(aim),)),),
        rings=(Ring(id="ring", label="Ring", entries=(RingEntry.of(aim), RingEntry.of(PressKeys(("KEY_1",))))),),
    )
    made = remove(profile, Reference(Kind.LAYER, "aim"))
    assert (made.carousels, made.rings) == ((), ())
    assert made.layers[0].slots == {"east": Assignment.of(PressKeys(("KEY_E",)))}


def test_every_effect_is_written_as_it_is_read_and_the_walk_changes_what_it_meets() -> None:
    for game in GAMES:
        profile = parse_profile(demo_profile_text(game))
        for _, action in actions_in(profile):
            assert action.effect is not None and len(action.effects) == 1
            assert with_effect(with_effect(action, Silence()), action.effect) == action
            assert action.of(action.effect).effect == action.effect
        assert map_actions(profile, lambda action: action) == profile
        silent = map_actions(profile, lambda action: with_effect(action, PlaySequence("none")))
        assert {action.effect for _, action in actions_in(silent)} == {PlaySequence("none")}


def test_the_number_pad_walks_eight_ways() -> None:
    profile = Profile(schema=4, title="T")
    four = edits.set_feel(profile, "left_stick", directions=replace(profile.feel.left_stick.directions, ways=4))
    keys = edits.STICK_KEYS["Number pad, nine ways"]
    assert edits.bind_stick_keys(four, BASE_LAYER, "left_stick", keys).feel.left_stick.directions.ways == 8
    walk = edits.STICK_KEYS["Arrow keys"]
    assert edits.bind_stick_keys(four, BASE_LAYER, "left_stick", walk).feel.left_stick.directions.ways == 4


def test_a_layer_brings_along_what_it_is_based_on() -> None:
    there = Profile(
        schema=4,
        title="There",
        layers=(
            Layer(id=BASE_LAYER, label="Base"),
            Layer(id="ground", label="Ground"),
            Layer(id="above", label="Above", based_on="ground"),
        ),
    )
    here = transfer.copy_layer(Profile(schema=4, title="Here"), there, "above")
    assert {layer.id for layer in here.layers} == {BASE_LAYER, "ground", "above"}
    assert reference_problems(here, us_layout) == []
    lacking = Profile(schema=4, title="T", layers=(Layer(id=BASE_LAYER, label="Base"), Layer(id="above", label="A")))
    based = transfer.copy_layer_setting(lacking, there, "above", "based_on")
    assert find(based, Reference(Kind.LAYER, "ground")) is not None


@given(st.integers(0, 400), st.integers(0, 400), st.data())
def test_views_that_are_said_to_be_the_same_are(seed: int, other: int, data: st.DataObject) -> None:
    """What the window leaves undrawn after an edit would have looked the same."""
    profile, donor = random_profile(Random(seed)), random_profile(Random(other))
    number = data.draw(st.integers(0, len(profile.layers) - 1))
    layer, theirs = profile.layers[number], data.draw(st.sampled_from(donor.layers))
    slot = data.draw(st.sampled_from(sorted({*layer.slots, *theirs.slots, "south"})))
    slots = {name: what for name, what in layer.slots.items() if name != slot}
    if slot in theirs.slots:
        slots[slot] = theirs.slots[slot]
    layers = list(profile.layers)
    layers[number] = replace(layer, slots=slots)
    edited = replace(profile, layers=tuple(layers))
    control = data.draw(st.sampled_from([control.name for control in CONTROLS]))
    if has_same_views(profile, edited, control):
        for shown in profile.layers:
            before, after = (control_views(one, shown.id, control, us_layout()) for one in (profile, edited))
            assert before == after


def test_what_cannot_be_done_is_said_in_the_windows_words(tmp_path: Path) -> None:
    profile = parse_profile(demo_profile_text())
    document = Document(tmp_path / "game.toml", profile)
    press = Assignment(keys=("KEY_A",))
    assert not document.edit("No", lambda now: edits.bind(now, "lamp", "right_stick", press))
    assert document.fault == "this cannot be done: Right stick, in Lamp: a whole stick takes no press"
    broken = replace(profile.moves[0], keys=("KEY_NONE",))
    assert not document.edit("No", lambda now: replace(now, moves=(broken, *now.moves[1:])))
    assert document.fault.startswith(f"this cannot be done: {broken.label}: ")
