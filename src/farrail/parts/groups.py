"""Headings over the fields of a part, in the order one reads them off it."""

from farrail.language import N_, Message
from farrail.parts.field_info import Group

HEADINGS: dict[Group, Message] = {
    Group.ENDS: N_("Joints"),
    Group.OPTICS: N_("Optics"),
    Group.FOCUSING: N_("Minimum focus distance"),
    Group.POWER: N_("Power and factor"),
    Group.LENGTH: N_("Lengths"),
    Group.APERTURE: N_("Openings"),
    Group.HOLDS: N_("Seats and slots"),
    Group.GUIDING: N_("Guiding"),
    Group.BODY: N_("Body as drawn"),
    Group.SENSOR: N_("Sensor"),
    Group.GLASS: N_("Glass"),
    Group.PASSBAND: N_("Filter"),
    Group.SHEET: N_("Square filter"),
    Group.KEEPING: N_("Name, keeping and buying"),
}
