# SPDX-License-Identifier: GPL-3.0-or-later
"""Walks the window through the accessibility bus, view by view: whatever can be used has a name, fields that open
a list have a label and whatever holds a figure its value, what is drawn has children with words, and Tab alone
goes through all of it and comes back. Prints what is wrong; exit 1 when anything is."""

import subprocess
import sys
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi  # noqa: E402

VIEWS = ["Roster", "Rider", "Season", "Block", "Rides", "Review"]
# What is drawn by hand in a view, and the fewest parts it tells.
DRAWN = {"Season": 10, "Block": 7, "Review": 3}
USED = {
    "push button", "check box", "radio button", "combo box", "entry", "text", "spin button", "table", "list",
    "tree", "tree table", "slider", "toggle button", "page tab", "menu item", "date editor",
}
SHOWING, FOCUSED = Atspi.StateType.SHOWING, Atspi.StateType.FOCUSED
wrong = []


def keys(*names):
    for name in names:
        subprocess.run(["xdotool", "key", name], check=True)


def application():
    for _ in range(200):
        desktop = Atspi.get_desktop(0)
        for i in range(desktop.get_child_count()):
            one = desktop.get_child_at_index(i)
            if one and one.get_name() == "marram" and one.get_child_count():
                return one
        time.sleep(0.1)
    print("aloud: the window is not on the accessibility bus")
    sys.exit(1)


def shown(node, most=400):
    """The node and what is shown in it, in reading order."""
    yield node
    for i in range(min(node.get_child_count(), most)):
        child = node.get_child_at_index(i)
        if child and child.get_state_set().contains(SHOWING):
            yield from shown(child)


def label(node):
    for relation in node.get_relation_set():
        if relation.get_relation_type() == Atspi.RelationType.LABELLED_BY:
            return " ".join(relation.get_target(i).get_name() for i in range(relation.get_n_targets()))
    return ""


def what(node):
    return f"{node.get_role_name()} \"{node.get_name()}\" {label(node)}".strip()


def look(view, window):
    count, parts = 0, 0
    for node in shown(window):
        role, name = node.get_role_name(), (node.get_name() or "").strip()
        if role == "list":
            for i in range(node.get_child_count()):
                words = (node.get_child_at_index(i).get_name() or "").strip()
                parts += 1
                if not words:
                    wrong.append(f"{view}: part {i} of {what(node)} says nothing")
        if role not in USED:
            continue
        count += 1
        if not name and not label(node):
            wrong.append(f"{view}: a {role} has no name")
        if role == "combo box" and not label(node):
            wrong.append(f"{view}: {what(node)} is chosen of nothing")
        if role == "spin button" and node.get_value_iface() is None:
            wrong.append(f"{view}: {what(node)} has no value")
    if count < 8:
        wrong.append(f"{view}: only {count} things that can be used are found")
    if parts < DRAWN.get(view, 0):
        wrong.append(f"{view}: what is drawn tells {parts} parts only")
    return count


def focused(window):
    for node in shown(window):
        if node.get_state_set().contains(FOCUSED):
            return node
    return None


def tab_through(view, window, most=200):
    """Tab alone: the place it began at comes again, and everything on the way has a name."""
    first, seen = None, []
    for step in range(most):
        node = focused(window)
        if node is None:
            keys("Tab")
            time.sleep(0.05)
            continue
        place = (node.get_role_name(), node.get_name(), label(node),
                 str(node.get_extents(Atspi.CoordType.SCREEN).x), str(node.get_extents(Atspi.CoordType.SCREEN).y))
        if not (node.get_name() or label(node)).strip():
            wrong.append(f"{view}: Tab comes to a {node.get_role_name()} without a name")
        if first is None:
            first = place
        elif place == first and len(set(seen)) > 1:
            return len(set(seen))
        # A text takes a Tab for each of its links.
        if seen[-40:] == [place] * 40:
            wrong.append(f"{view}: Tab stays in {what(node)}")
            return 0
        seen.append(place)
        keys("Tab")
        time.sleep(0.05)
    wrong.append(f"{view}: Tab does not come round in {most} steps")
    return 0


window = application()
time.sleep(2)
told = []
for number, view in enumerate(VIEWS, 1):
    keys(f"ctrl+{number}")
    time.sleep(1.5)
    told.append(f"{view} {look(view, window)} and {tab_through(view, window)}")
for line in dict.fromkeys(wrong):
    print("aloud:", line)
print("aloud: things with names, and stops of Tab:", "; ".join(told))
sys.exit(1 if wrong else 0)
