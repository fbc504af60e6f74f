"""One call that reads a train: layout, readouts and findings, computed once and kept while it stays the same."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from itertools import chain

from farrail.readouts.close_up.conjugate import ObjectConjugate, object_conjugate_of
from farrail.readouts.close_up.figures import close_up_figures
from farrail.readouts.close_up.findings import close_up_findings
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.exposure.figures import exposure_figures
from farrail.readouts.exposure.model import Exposure
from farrail.readouts.field.figures import coverage_figures, sky_figures
from farrail.readouts.field.findings import field_findings
from farrail.readouts.figure import Figure
from farrail.readouts.finding import SEVERITY_ORDER, Finding, Severity
from farrail.readouts.front.figures import front_figures
from farrail.readouts.front.findings import front_findings
from farrail.readouts.front.model import Front
from farrail.readouts.joints.findings import (
    cell_findings,
    joint_findings,
    ownership_findings,
    rotation_findings,
    seating_findings,
)
from farrail.readouts.joints.profiles import profile_findings
from farrail.readouts.light.figures import light_figures
from farrail.readouts.light.findings import light_findings
from farrail.readouts.light.model import Light
from farrail.readouts.light.sharpness_figures import sharpness_figures
from farrail.readouts.not_judged import NotJudged
from farrail.readouts.spacing.figures import spacing_figures
from farrail.readouts.spacing.findings import spacing_findings
from farrail.readouts.spacing.focuser_figures import focuser_and_guider_figures
from farrail.readouts.spacing.model import Spacing
from farrail.readouts.spacing.verdict import Verdict, verdict_on
from farrail.train.layout import Layout, build_layout
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.units import stops_lost


class Subject(StrEnum):
    """What findings are about."""

    SPACING = "spacing"
    JOINTS = "joints"
    LIGHT = "light"
    FIELD = "field"
    FRONT = "front"
    CLOSE_UP = "close_up"
    SHELF = "shelf"


@dataclass(frozen=True)
class Readout:
    """Everything a placed train predicts; each member is computed when first asked for."""

    layout: Layout

    @cached_property
    def spacing(self) -> Spacing:
        """Does the sensor land where the optic needs it."""
        return Spacing(self.layout)

    @cached_property
    def object_conjugate(self) -> ObjectConjugate:
        """The subject as the entrance pupil sees it."""
        return object_conjugate_of(self.layout, self.close_up)

    @cached_property
    def light(self) -> Light:
        """Which part darkens the corner and by how much."""
        return Light(self.layout, self.object_conjugate)

    @cached_property
    def front(self) -> Front:
        """What the front stack darkens, and from where on it is clean."""
        return Front(self.layout, self.object_conjugate)

    @cached_property
    def close_up(self) -> CloseUp:
        """How large, how near, how deep."""
        return self.exposure.close_up

    @cached_property
    def exposure(self) -> Exposure:
        """What the train costs in light."""
        return Exposure(self.layout)

    @cached_property
    def verdict(self) -> Verdict:
        """The verdict on the spacing."""
        return verdict_on(self.spacing)

    @cached_property
    def spacing_figures(self) -> dict[str, Figure]:
        """The spacing figures by id, which an edit asks for at once."""
        return spacing_figures(self.spacing)

    @cached_property
    def light_figures(self) -> dict[str, Figure]:
        """The light figures by id."""
        return _by_id(light_figures(self.light))

    @cached_property
    def front_figures(self) -> dict[str, Figure]:
        """The front stack's figures by id."""
        return _by_id(front_figures(self.front))

    @cached_property
    def close_up_figures(self) -> dict[str, Figure]:
        """The close-up figures by id."""
        return _by_id(close_up_figures(self.close_up))

    @cached_property
    def exposure_figures(self) -> dict[str, Figure]:
        """The figures of what costs light, by id."""
        return _by_id(exposure_figures(self.exposure))

    @cached_property
    def field_figures(self) -> dict[str, Figure]:
        """The figures of focuser, guider, field and cone, by id."""
        layout = self.layout
        return _by_id(
            (
                *focuser_and_guider_figures(layout), *coverage_figures(layout), *sharpness_figures(layout),
                *sky_figures(layout),
            )
        )  # fmt: skip

    @property
    def figures(self) -> dict[str, Figure]:
        """Every figure by id, in reading order."""
        return (
            self.spacing_figures | self.light_figures | self.front_figures | self.close_up_figures
            | self.exposure_figures | self.field_figures
        )  # fmt: skip

    @cached_property
    def spacing_findings(self) -> tuple[Finding, ...]:
        """The findings on the spacing alone."""
        return tuple(spacing_findings(self.spacing, self.verdict))

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """Every finding, gravest first; what cannot be judged is a finding, and the rest is judged all the same."""
        for _ in self.judge():
            pass
        return tuple(sorted(chain.from_iterable(self._found), key=lambda f: SEVERITY_ORDER[f.severity]))

    def judge(self) -> Iterator[None]:
        """Work the findings out, subject by subject, so that an interface may answer between them."""
        subjects = self._subjects()
        while len(self._found) < len(subjects):
            self._found.append(_judged(*subjects[len(self._found)]))
            yield

    @cached_property
    def _found(self) -> list[list[Finding]]:
        """The findings of each subject, as far as they are worked out."""
        return []

    def _subjects(self) -> tuple[tuple[Subject, Callable[[], Iterable[Finding]]], ...]:
        layout = self.layout
        return (
            (Subject.SPACING, lambda: self.spacing_findings),
            (Subject.JOINTS, lambda: joint_findings(layout)),
            (Subject.JOINTS, lambda: cell_findings(layout)),
            (Subject.JOINTS, lambda: seating_findings(layout)),
            (Subject.JOINTS, lambda: rotation_findings(layout)),
            (Subject.JOINTS, lambda: profile_findings(layout)),
            (Subject.LIGHT, lambda: light_findings(self.light)),
            (Subject.FIELD, lambda: field_findings(layout)),
            (Subject.FRONT, lambda: front_findings(self.front)),
            (Subject.CLOSE_UP, lambda: close_up_findings(self.close_up)),
            (Subject.SHELF, lambda: ownership_findings(layout)),
        )

    @cached_property
    def corner_stops(self) -> float:
        """Stops lost in the darkest corner to what is ahead of the lens or behind it, the worse of the two."""
        behind = self.light.corner_ri
        return max(self.front.corner_stops if self.front.judged else 0.0, 0.0 if behind is None else stops_lost(behind))

    @property
    def errors(self) -> tuple[Exception, ...]:
        """What broke while this train was judged."""
        return tuple(f.text.error for f in self.findings if isinstance(f.text, NotJudged))

    @property
    def stops(self) -> bool:
        """Whether any finding stops the train."""
        return any(f.severity is Severity.STOP for f in self.findings)


def _judged(subject: Subject, find: Callable[[], Iterable[Finding]]) -> list[Finding]:
    """Return what was found about a subject; where that breaks, one finding that says so."""
    try:
        return [*find()]
    except Exception as error:
        return [Finding(NotJudged(subject.value, error), Severity.STOP, which=subject.value)]


def _by_id(figures: Iterable[Figure]) -> dict[str, Figure]:
    return {figure.id: figure for figure in figures}


def read(train: Train, shelf: Shelf) -> Readout:
    """Build a train's layout and read it.

    Raises:
        BadWorkbook: the train names parts the shelf does not have.
    """
    return Readout(build_layout(train, shelf))
