"""Summary of a profile, in words, to read before it is played or imported."""

from __future__ import annotations

from nub_shift.editing.words.activation import leaving_words, rule_line
from nub_shift.editing.words.labels import action_label, layer_words, move_count, reacting_words, slot_words
from nub_shift.editing.words.reach import plainly, reach, warnings
from nub_shift.editing.words.slot_views import input_caps
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import slot_label
from nub_shift.model.profile.effects import DoMove
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.model.references.walk import sent_input
from nub_shift.translation import inside, tr, trn

LOOK_FIRST = tr("Look at this first")


def summary(profile: Profile, layout: Layout) -> list[tuple[str, list[str]]]:
    """Returns headings with lines: warnings first, every key and typed text, then layers and their uses."""
    found = [(profile.title, [_size(profile), *reach(profile, layout)])]
    if worrying := warnings(profile, layout):
        found.insert(0, (LOOK_FIRST, worrying))
    if profile.comes_on.rules:
        lines = [*map(rule_line, profile.comes_on.rules), leaving_words(profile.comes_on)]
        found.append((tr("Comes on by itself"), lines))
    for layer in profile.layers:
        lines = [
            f"{slot_label(slot)}: {slot_words(profile, slot, what, layout)}{_keys(profile, what, layout)}"
            for slot, what in layer.slots.items()
        ]
        for pair in layer.together:
            first, *others = (slot_label(slot) for slot in pair.slots)
            pressed = tr(" and ").join([first, *(inside(other) for other in others)])
            lines.append(
                tr("{pressed} together: {action}", pressed=pressed, action=reacting_words(profile, pair, layout))
            )
        for word, own in ((tr("As it comes on"), layer.enter), (tr("As it goes"), layer.leave)):
            if own is not None:
                lines.append(f"{word}: {action_label(profile, own, layout)}")
        found.append((layer_words(layer.label), lines or [tr("Nothing of its own")]))
    for carousel in profile.carousels:
        entries = [action_label(profile, entry, layout) for entry in carousel.entries]
        found.append((tr("Carousel {carousel}", carousel=carousel.label), [", ".join(entries)]))
    for ring in profile.rings:
        found.append(
            (
                tr("Ring {ring}", ring=ring.label),
                [", ".join(action_label(profile, entry, layout) for entry in ring.entries)],
            )
        )
    for sequence in profile.sequences:
        typed = [tr('types "{step}"', step=plainly(step.text)) for step in sequence.steps if step.text]
        found.append(
            (
                tr("Sequence {sequence}", sequence=sequence.label),
                [trn("{count} step", "{count} steps", len(sequence.steps)), *typed],
            )
        )
    return found


def _size(profile: Profile) -> str:
    slots = sum(len(layer.slots) for layer in profile.layers)
    layers = trn("{count} layer", "{count} layers", len(profile.layers))
    return f"{move_count(len(profile.moves))}, {layers}, {trn('{count} slot', '{count} slots', slots)}"


def _keys(profile: Profile, assignment: Assignment, layout: Layout) -> str:
    """Returns the keys of the moves in an assignment."""
    found = []
    for action in assignment.reactions.values():
        if isinstance(action.effect, DoMove) and (caps := input_caps(sent_input(profile, action), layout)):
            found.append(" + ".join(caps))
    return f" ({'; '.join(found)})" if found else ""
