"""Headings over the fields of a part, in the order one reads them off it."""

from farrail.parts.told import Group

HEADINGS: dict[Group, str] = {
    Group.ENDS: "Joints", Group.OPTICS: "Optics", Group.FOCUSING: "How near it focuses",
    Group.POWER: "Power and factor",
    Group.LENGTH: "Lengths", Group.APERTURE: "Openings", Group.HOLDS: "Seats and slots", Group.GUIDING: "Guiding",
    Group.BODY: "Body as drawn", Group.SENSOR: "Sensor", Group.GLASS: "Glass", Group.PASSBAND: "Filter",
    Group.SHEET: "Sheet", Group.KEEPING: "Name, keeping and buying",
}  # fmt: skip
