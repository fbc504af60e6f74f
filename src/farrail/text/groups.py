"""Headings over the fields of a part, in the order one reads them off it."""

from farrail.language import say
from farrail.parts.told import Group

HEADINGS: dict[Group, str] = {
    Group.ENDS: say("Joints"),
    Group.OPTICS: say("Optics"),
    Group.FOCUSING: say("How near it focuses"),
    Group.POWER: say("Power and factor"),
    Group.LENGTH: say("Lengths"),
    Group.APERTURE: say("Openings"),
    Group.HOLDS: say("Seats and slots"),
    Group.GUIDING: say("Guiding"),
    Group.BODY: say("Body as drawn"),
    Group.SENSOR: say("Sensor"),
    Group.GLASS: say("Glass"),
    Group.PASSBAND: say("Filter"),
    Group.SHEET: say("Square filter"),
    Group.KEEPING: say("Name, keeping and buying"),
}
