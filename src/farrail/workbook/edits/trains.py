"""Edits to the trains of a workbook as a whole."""

import re
from collections.abc import Callable
from dataclasses import dataclass

from farrail.errors import BadWorkbook, EditRefused
from farrail.language import N_, Text, say
from farrail.optics.exposure import time_words
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.train.train import Sky, Target, Train
from farrail.workbook.workbook import Workbook, check_train


def change_train(workbook: Workbook, train_id: str, change: Callable[[Train], Train]) -> Workbook:
    """Return the workbook with one train changed and checked against the shelf.

    Raises:
        EditRefused: there is no such train, or the changed one does not fit the shelf.
    """
    trains = list(workbook.trains)
    for index, train in enumerate(trains):
        if train.id == train_id:
            trains[index] = changed = change(train)
            try:
                check_train(changed, workbook.by_id)
            except BadWorkbook as error:
                raise EditRefused(str(error)) from None
            return workbook.model_copy(update={"trains": tuple(trains)})
    raise EditRefused("There is no train “{train_id}” any more; choose another.", train_id=train_id)


def id_stem(name: str) -> str:
    """Return what the ids made from a name begin with."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60] or "item"


def free_id(name: str, taken: set[str], begin: int = 2) -> str:
    """Return an id made from a name that is not taken yet; numbers are tried from `begin` on."""
    stem = id_stem(name)
    number, candidate = begin, stem if begin <= 2 else f"{stem}-{begin}"
    while candidate in taken:
        candidate, number = f"{stem}-{number}", number + 1
    return candidate


def checked_name(name: str, what: str) -> str:
    """Return a name without blanks around it.

    Raises:
        EditRefused: nothing is left, or it is too long.
    """
    name = name.strip()
    if not name or len(name) > 120:
        raise EditRefused("A {what} needs a name of 1 to 120 characters.", what=what)
    return name


@dataclass(frozen=True)
class AddTrain:
    """Start a train with an optic and a camera and nothing between them."""

    name: str
    optic: PartId
    camera: PartId | None
    label: Text = N_("Start train")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train at its end."""
        name = checked_name(self.name, say("train"))
        train = Train(
            id=free_id(name, {t.id for t in workbook.trains}), name=name, optic=self.optic, camera=self.camera
        )
        try:
            check_train(train, workbook.by_id)
        except BadWorkbook as error:
            raise EditRefused(str(error)) from None
        return workbook.model_copy(update={"trains": (*workbook.trains, train)})


@dataclass(frozen=True)
class DuplicateTrain:
    """Copy a train, to try something on the copy."""

    train_id: str
    label: Text = N_("Duplicate train")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the copy after the original."""
        trains = list(workbook.trains)
        for index, train in enumerate(trains):
            if train.id == self.train_id:
                name = say("{name}, copy", name=train.name[:113])
                copy = train.model_copy(update={"id": free_id(name, {t.id for t in trains}), "name": name})
                trains.insert(index + 1, copy)
                return workbook.model_copy(update={"trains": tuple(trains)})
        raise EditRefused("The train to copy is gone; choose another.")


@dataclass(frozen=True)
class RenameTrain:
    """Give a train another name."""

    train_id: str
    name: str
    label: Text = N_("Rename train")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train renamed."""
        name = checked_name(self.name, say("train"))
        return change_train(workbook, self.train_id, lambda t: t.model_copy(update={"name": name}))


@dataclass(frozen=True)
class RenameWorkbook:
    """Give the workbook another name."""

    name: str
    label: Text = N_("Rename workbook")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook renamed."""
        return workbook.model_copy(update={"name": checked_name(self.name, say("workbook"))})


@dataclass(frozen=True)
class RemoveTrain:
    """Take a train out of the workbook."""

    train_id: str
    label: Text = N_("Remove train")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without the train."""
        kept = tuple(t for t in workbook.trains if t.id != self.train_id)
        return workbook.model_copy(update={"trains": kept})


@dataclass(frozen=True)
class SetFNumber:
    """Use a train at another f-number; None goes back to the optic's own."""

    train_id: str
    f_number: float | None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return (
            say("Use the optic's own f-number")
            if self.f_number is None
            else say("Stop to f/{f_number:g}", f_number=self.f_number)
        )

    @property
    def merge_key(self) -> str | None:
        """Several settings in a row are one step."""
        return f"f-number:{self.train_id}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's conditions changed."""
        value = self.f_number
        if value is not None and not 0.3 <= value <= 1000.0:
            raise EditRefused("An f-number of {value:g} cannot be used; give one between 0.3 and 1000.", value=value)
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"f_number": value}))


def with_conditions(train: Train, update: dict[str, object]) -> Train:
    """Return a train with some of its conditions changed."""
    return train.model_copy(update={"conditions": train.conditions.model_copy(update=update)})


@dataclass(frozen=True)
class SetTarget:
    """Aim a train at a target of the sky; None takes it away."""

    train_id: str
    target: Target | None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say("Remove the target") if self.target is None else say("Aim at {name}", name=self.target.name)

    @property
    def merge_key(self) -> str | None:
        """Turning it on is one step."""
        return f"target:{self.train_id}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's target changed."""
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"target": self.target}))


@dataclass(frozen=True)
class SetCamera:
    """End a train with another camera."""

    train_id: str
    camera: PartId
    label: Text = N_("Change camera")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's camera changed."""
        return change_train(workbook, self.train_id, lambda t: t.model_copy(update={"camera": self.camera}))


@dataclass(frozen=True)
class SetOptic:
    """Begin a train with another optic."""

    train_id: str
    optic: PartId
    label: Text = N_("Change optic")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's optic changed."""
        return change_train(
            workbook, self.train_id, lambda t: t.model_copy(update={"optic": self.optic, "optic_reversed": False})
        )


@dataclass(frozen=True)
class SetFocal:
    """Set a zoom to a focal length."""

    train_id: str
    focal_mm: float

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say("Zoom to {focal_mm:g} mm", focal_mm=self.focal_mm)

    @property
    def merge_key(self) -> str | None:
        """Zooming on is one step."""
        return f"focal:{self.train_id}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's focal length set; refused outside the zoom."""
        train = workbook.train(self.train_id)
        lens = workbook.by_id.get(train.optic)
        if not isinstance(lens, CameraLens) or lens.longest_focal_mm is None:
            name = lens.name if lens is not None else say("This optic")
            raise EditRefused("{name} is no zoom: its focal length stays.", name=name)
        low, high = lens.focal_length_mm.value, lens.longest_focal_mm.value
        if not low - 1e-9 <= self.focal_mm <= high + 1e-9:
            raise EditRefused(
                "{name} cannot be set to {focal_mm:g} mm: it reaches {low:g} to {high:g} mm.",
                name=lens.name,
                focal_mm=self.focal_mm,
                low=low,
                high=high,
            )
        focal = min(max(self.focal_mm, low), high)
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"focal_mm": focal}))


@dataclass(frozen=True)
class SetMetered:
    """Keep what the meter said without filters; None forgets it."""

    train_id: str
    time_s: float | None
    iso: float | None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return (
            say("Forget the metered time")
            if self.time_s is None
            else say("Metered {time_words}", time_words=time_words(self.time_s))
        )

    @property
    def merge_key(self) -> str | None:
        """Each metering is a step of its own."""
        return None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with it kept."""
        if self.iso is not None and not 1.0 <= self.iso <= 1e7:
            raise EditRefused("ISO {iso:g} cannot be used; give 1 to 10 million.", iso=self.iso)
        kept: dict[str, object] = {"metered_s": self.time_s, "metered_iso": self.iso}
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, kept))


@dataclass(frozen=True)
class SetFocus:
    """Focus a train's lens at a distance from its entrance pupil; None is infinity."""

    train_id: str
    focus_mm: float | None
    label: Text = N_("Focus the lens")

    @property
    def merge_key(self) -> str | None:
        """Focusing on is one step."""
        return f"focus:{self.train_id}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the lens focused there."""
        if self.focus_mm is not None and not 10.0 <= self.focus_mm <= 1e9:
            raise EditRefused(
                "A lens cannot be focused at {focus_mm:g} mm; enter 10 mm or more, or leave it empty.",
                focus_mm=self.focus_mm,
            )
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"focus_mm": self.focus_mm}))


@dataclass(frozen=True)
class SetSubject:
    """Say how wide and deep a close subject is, and what blur still counts as sharp; None where not known."""

    train_id: str
    width_mm: float | None
    depth_mm: float | None
    blur_um: float | None
    label: Text = N_("Describe the subject")

    @property
    def merge_key(self) -> str | None:
        """Each change is a step of its own."""
        return None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the subject described."""
        for name, value, most, unit in (
            ("width", self.width_mm, 100_000.0, "mm"), ("depth", self.depth_mm, 10_000.0, "mm"),
            ("blur", self.blur_um, 1000.0, "µm"),
        ):  # fmt: skip
            if value is not None and not 0.0 < value <= most:
                raise EditRefused(
                    "A {name} of {value:g} {unit} cannot be used; give above 0 and at most {most:g}.",
                    name=name,
                    value=value,
                    unit=unit,
                    most=most,
                )
        kept: dict[str, object] = {
            "subject_width_mm": self.width_mm, "subject_depth_mm": self.depth_mm, "blur_um": self.blur_um,
        }  # fmt: skip
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, kept))


@dataclass(frozen=True)
class SetGuideNumber:
    """Keep a flash's guide number, in metres at ISO 100; None forgets it."""

    train_id: str
    guide_number_m: float | None
    label: Text = N_("Set the flash's guide number")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with it kept."""
        value = self.guide_number_m
        if value is not None and not 0.0 < value <= 1000.0:
            raise EditRefused(
                "A guide number of {value:g} cannot be used; give above 0 and at most 1000 m.", value=value
            )
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"guide_number_m": value}))


@dataclass(frozen=True)
class LayCloseUp:
    """Place a close-up combination in a train, in one step: lens, what is ahead and behind, and its focus."""

    train_id: str
    laid: Train
    label: Text = N_("Apply the set-up")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's optic, rows and conditions exchanged."""
        other = self.laid

        def change(train: Train) -> Train:
            update = {
                "optic": other.optic, "optic_reversed": other.optic_reversed, "front_stack": other.front_stack,
                "rear_train": other.rear_train, "conditions": other.conditions,
            }  # fmt: skip
            return train.model_copy(update=update)

        return change_train(workbook, self.train_id, change)


@dataclass(frozen=True)
class SetSky:
    """Say where the Sun is and how the polariser is turned; None goes back to a usual sky."""

    train_id: str
    sky: Sky | None
    label: Text = N_("Describe the sky")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the sky described."""
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"sky": self.sky}))
