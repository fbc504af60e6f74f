"""Random lenses of two thin groups with a stop between, focused and extended by ray matrices alone.

The lens is described to the program as a maker would: focal length, f-number, closest distance and magnification there.
Everything else (its principal planes, pupils, how it focuses) the program does not know. Matrices: Gerrard and Burch,
*Introduction to Matrix Methods in Optics* (cited from memory).
"""

from dataclasses import dataclass

import numpy as np

FLANGE_MM = 44.0


def lens(focal: float) -> np.ndarray:
    """Return a thin lens."""
    return np.array([[1.0, 0.0], [-1.0 / focal, 1.0]])


def travel(length: float) -> np.ndarray:
    """Return a way through air."""
    return np.array([[1.0, length], [0.0, 1.0]])


@dataclass(frozen=True)
class Setting:
    """A lens focused somehow: its groups and its stop ahead of the sensor, in mm.

    Attributes:
        first: focal length of the front group.
        second: of the rear group.
        front: front group to sensor.
        rear: rear group to sensor.
        stop: stop to sensor, between both groups.
        wide: diameter of the stop.
        thread: filter thread to sensor.
    """

    first: float
    second: float
    front: float
    rear: float
    stop: float
    wide: float
    thread: float

    @property
    def matrix(self) -> np.ndarray:
        """From the front group to the rear group."""
        return np.asarray(lens(self.second) @ travel(self.front - self.rear) @ lens(self.first))

    @property
    def focal(self) -> float:
        """Focal length."""
        return float(-1.0 / self.matrix[1, 0])

    def planes(self) -> tuple[float, float]:
        """Return front and rear principal plane, each ahead of the sensor."""
        (a, _), (c, d) = self.matrix
        return self.front + float((d - 1.0) / -c) * -1.0, self.rear - float((1.0 - a) / c)

    def object_mm(self) -> float:
        """Return where the subject in focus is, ahead of the front group; infinite or negative where there is none."""
        whole = travel(self.rear) @ self.matrix
        # B of (sensor ← subject) vanishes: A·u + B = 0.
        return float(-whole[0, 1] / whole[0, 0])

    def magnification(self) -> float:
        """Return image over subject for the subject in focus."""
        whole = travel(self.rear) @ self.matrix @ travel(self.object_mm())
        return abs(float(whole[0, 0]))

    def entrance_pupil(self) -> tuple[float, float]:
        """Return the entrance pupil's place, behind the front group, and its diameter."""
        gap = self.front - self.stop
        if gap < 1e-9:
            return 0.0, self.wide
        image = 1.0 / (1.0 / gap - 1.0 / self.first)
        return image, self.wide * abs(image / gap)

    def exit_pupil(self) -> tuple[float, float]:
        """Return the exit pupil's place, ahead of the rear group, and its diameter."""
        gap = self.stop - self.rear
        if gap < 1e-9:
            return 0.0, self.wide
        image = 1.0 / (1.0 / gap - 1.0 / self.second)
        return image, self.wide * abs(image / gap)

    @property
    def pupil_ratio(self) -> float:
        """Exit over entrance pupil."""
        return self.exit_pupil()[1] / self.entrance_pupil()[1]

    @property
    def hiatus(self) -> float:
        """Front to rear principal plane, by subject to sensor = f (2 + m + 1/m) + H."""
        m = self.magnification()
        return self.object_mm() + self.front - self.focal * (2.0 + m + 1.0 / m)

    @property
    def effective_f_number(self) -> float:
        """The cone at the sensor: the exit pupil's distance over its diameter."""
        place, wide = self.exit_pupil()
        return (self.rear + place) / wide

    def extended(self, by_mm: float) -> "Setting":
        """Return it with tubes between it and the sensor."""
        return Setting(self.first, self.second, self.front + by_mm, self.rear + by_mm, self.stop + by_mm, self.wide,
                       self.thread + by_mm)  # fmt: skip


@dataclass(frozen=True)
class Lens:
    """A lens at infinity and at its closest focus."""

    far: Setting
    near: Setting
    f_number: float

    @property
    def closest_mm(self) -> float:
        """Subject to sensor at its closest focus."""
        return self.near.object_mm() + self.near.front

    @property
    def entrance_depth_mm(self) -> float:
        """Entrance pupil behind the thread, focused at infinity."""
        return self.far.thread - self.far.front + self.far.entrance_pupil()[0]


def random_lens(dice: np.random.Generator) -> Lens | None:
    """Return a random lens; None where the dice made none that focuses."""
    first, second = (float(dice.uniform(25.0, 250.0) * dice.choice([1.0, 1.0, -1.0])) for _ in range(2))
    apart = float(dice.uniform(4.0, 70.0))
    power = 1.0 / first + 1.0 / second - apart / (first * second)
    if not 1.0 / 220.0 < power < 1.0 / 20.0:
        return None
    focal = 1.0 / power
    back = focal * (1.0 - apart / first)
    if not 12.0 < back < 160.0:
        return None
    share, f_number = float(dice.uniform(0.0, 1.0)), float(dice.choice([1.8, 2.8, 4.0, 5.6]))
    front = back + apart
    ahead = float(dice.uniform(0.0, 12.0))
    unit = Setting(first, second, front, back, back + share * apart, 1.0, front + ahead)
    wide = focal / f_number / unit.entrance_pupil()[1]
    if not wide > 0.0:
        return None
    far = Setting(first, second, front, back, unit.stop, wide, unit.thread)
    wanted = float(dice.uniform(0.08, 1.0))
    near = _focused(far, wanted, str(dice.choice(["unit", "front", "rear"])))
    return None if near is None else Lens(far, near, f_number)


def _focused(far: Setting, wanted: float, how: str) -> Setting | None:
    """Return a lens focused to a magnification by moving all of it, its front group or its rear group."""
    steps = np.linspace(0.0, 1.5 * far.focal, 3000)[1:]
    for sign in (1.0,) if how == "unit" else (1.0, -1.0):
        for step in steps:
            moved = _moved(far, sign * float(step), how)
            if moved is None:
                break
            distance = moved.object_mm()
            if not 1.0 < distance < 1e7:
                if step > steps[3]:
                    break
                continue
            if moved.magnification() >= wanted:
                return moved
    return None


def _moved(far: Setting, step: float, how: str) -> Setting | None:
    share = (far.stop - far.rear) / (far.front - far.rear)
    front, rear, thread = far.front, far.rear, far.thread
    if how == "unit":
        front, rear, thread = front + step, rear + step, thread + step
    elif how == "front":
        front, thread = front + step, thread + step
    else:
        rear += step
    if front - rear < 2.0 or rear < 5.0:
        return None
    return Setting(far.first, far.second, front, rear, rear + share * (front - rear), far.wide, thread)
