"""What one pad has for itself: edits made for it change nothing for the others, and play follows the pad."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import set_feel
from nub_shift.editing.pad_view import PadView, set_pad_feel
from nub_shift.model.controls import STICKS
from nub_shift.model.profile.feel import DeadZoneShape, Directions
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.store.profile_files import format_profile, parse_profile

DEMO = parse_profile(demo_profile_text())
OLD, NEW = "0003-0001-0002-0003", "0003-0001-0002-0003-b2"


def dead_zone(text: str) -> partial[Profile]:
    return partial(feel_edits.set_setting, layer_id=BASE_LAYER, control="left_stick", path=("dead_zone",), text=text)


@settings(max_examples=40)
@given(
    stick=st.sampled_from(STICKS),
    dead=st.floats(0.0, 0.5),
    shape=st.sampled_from(DeadZoneShape),
    points=st.sampled_from([(), ((0.3, 0.1), (0.7, 0.5))]),
    on=st.floats(0.4, 0.9),
)
def test_a_pad_plays_just_what_was_set_for_it_and_the_others_what_they_did(
    stick: str, dead: float, shape: DeadZoneShape, points: tuple[tuple[float, float], ...], on: float
) -> None:
    ways = Directions(on=on, off=on / 2)
    seen = set_feel(DEMO, stick, dead_zone=dead, dead_zone_shape=shape, points=points, directions=ways)
    made = parse_profile(format_profile(set_pad_feel(DEMO, seen, OLD, "Old")))
    assert made.on_pad([OLD]).feel == seen.feel
    assert made.on_pad([NEW]).feel == made.feel == DEMO.feel
    assert set_pad_feel(made, made, OLD, "Old") == DEMO


def test_edits_for_one_pad_follow_what_all_have_and_can_be_given_back(tmp_path: Path) -> None:
    path = tmp_path / "game.toml"
    path.write_text(demo_profile_text())
    document = Document(path, DEMO)
    view = PadView(document)
    view.identity, view.name = OLD, "Old"
    assert view.edit("Left stick: dead zone 0.3", dead_zone("0.3"))
    assert view.profile.feel.left_stick.dead_zone == 0.3
    assert view.for_all == document.profile
    assert document.profile.feel == DEMO.feel
    assert document.history.latest(1)[0].label == "Old: Left stick: dead zone 0.3"
    document.edit("All", lambda profile: set_feel(profile, "left_stick", edge_zone=0.2))
    assert view.profile.feel.left_stick.edge_zone == 0.2
    assert view.profile.on_pad([NEW, OLD]).feel.left_stick.dead_zone == 0.3
    assert view.edit("Title", lambda profile: set_feel(profile, "left_stick", dead_zone=0.3))  # as it is already
    assert view.changes("left_stick")
    assert not view.changes("right_stick")
    assert view.give_back("as on all pads", "left_stick")
    assert document.profile.pads == ()
