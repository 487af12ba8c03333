"""What can be done to a shot, each as a function from the shot to an edit."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from windsock.core.changing.adding import AddBuilt, AddFile, AddItem, AddPaths, AddShape, AddSweep, CopyItem
from windsock.core.changing.carrying import CarryItem
from windsock.core.changing.choosing import Choose
from windsock.core.changing.clauses import (
    AddClause,
    ChangeMember,
    MeasureFromNewGroup,
    ReadNewGroup,
    Remember,
    RemoveClause,
)
from windsock.core.changing.closing import CloseStep
from windsock.core.changing.finishing import AddFinish
from windsock.core.changing.keys import RemoveKey, SetKey, SetValue
from windsock.core.changing.layers import AddLayer, PictureInLayer, RemoveLayer
from windsock.core.changing.looking import FocusAt, LookFrom, SetFocalLength
from windsock.core.changing.looks import LayKeptLook, LayLook
from windsock.core.changing.order import MoveInOrder, PlaceBeside
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.changing.points import AddBetween, AddMark
from windsock.core.changing.recipes import AddStep, CopyOneMoreShape, DriveByNewField, MakeApart
from windsock.core.changing.removing import RemoveGroup, RemoveItem, RemoveStep
from windsock.core.changing.several import DoSeveral, GiveLook, GroupItems, MoveItems
from windsock.core.changing.showing import ShowShape
from windsock.core.changing.timing import ChangeRate
from windsock.core.document.shot import Shot

AnyChange = (
    AddBetween
    | AddBuilt
    | AddClause
    | AddFile
    | AddFinish
    | AddItem
    | AddLayer
    | AddMark
    | AddPaths
    | AddShape
    | AddStep
    | AddSweep
    | CarryItem
    | ChangeMember
    | ChangeRate
    | Choose
    | CloseStep
    | CopyItem
    | CopyOneMoreShape
    | DoSeveral
    | DriveByNewField
    | FocusAt
    | GiveLook
    | GroupItems
    | LayKeptLook
    | LayLook
    | LookFrom
    | MakeApart
    | MeasureFromNewGroup
    | MoveInOrder
    | MoveItems
    | PictureInLayer
    | PlaceBeside
    | ReadNewGroup
    | Remember
    | RemoveClause
    | RemoveGroup
    | RemoveItem
    | RemoveKey
    | RemoveLayer
    | RemoveStep
    | SetFocalLength
    | SetKey
    | SetValue
    | ShowShape
)
Change = Annotated[AnyChange, Field(discriminator="kind")]

NOWHERE = Bounds((0.0, 0.0, 0.0), (2.0, 2.0, 2.0))
"""What something is taken to be like that cannot be measured, such as a shape of which nothing is left."""


def planned(change: AnyChange, shot: Shot, bounds: Bounds | None = None, frame: float = 0.0) -> PlannedEdit:
    """The edit that a change is, with every default spelled out. bounds: of the item that it measures. frame: the one that
    is looked at.

    Raises Refusal where it cannot be done; nothing is changed either way.
    """
    edit = PlannedEdit(shot, frame)
    change.plan(edit, bounds or NOWHERE)
    edit.complete()
    return edit
