"""The colours of each theme by role; widgets ask for a role, never for a colour."""

from dataclasses import dataclass

from farrail.language import N_, Message


@dataclass(frozen=True)
class Theme:
    """One theme. Text roles reach 4.5:1 on paper, panel and wash, marks and `edge` 3:1 (WCAG 2.2 AA; tested).

    `hairline` divides and need not be seen to use anything; `edge` bounds what can be used: fields, buttons, bars.
    """

    name: str
    title: Message
    paper: str
    panel: str
    ink: str
    steel: str
    hairline: str
    metal: str
    hatch: str
    glass: str
    glass_edge: str
    axis_light: str
    corner_light: str
    good: str
    look: str
    stop: str
    accent: str
    accent_wash: str
    on_accent: str
    edge: str
    dark: bool


PAPER = Theme(
    name="paper", title=N_("Paper"), paper="#F5F1E8", panel="#FBF9F4", ink="#1F2B33", steel="#55626A",
    hairline="#CFC8B8", metal="#FCFBF7", hatch="#8A9296", glass="#A9CDD6", glass_edge="#3C6A77",
    axis_light="#BD7A14", corner_light="#7A4E9E", good="#256B4B", look="#8F5409", stop="#A8322D",
    accent="#8F5A08", accent_wash="#F3E3C4", on_accent="#FFFFFF", edge="#8A8270", dark=False,
)  # fmt: skip

LAMP_ROOM = Theme(
    name="lamp-room", title=N_("Lamp room"), paper="#171C20", panel="#1E252A", ink="#E9E4D8", steel="#A3ADB3",
    hairline="#39434A", metal="#232B31", hatch="#6D7A82", glass="#2F5964", glass_edge="#86BBC9",
    axis_light="#E2A745", corner_light="#B491D6", good="#6FC79C", look="#E3A94F", stop="#F0837C",
    accent="#E2A745", accent_wash="#3A3222", on_accent="#171C20", edge="#717D86", dark=True,
)  # fmt: skip

DARK_ADAPTED = Theme(
    name="dark-adapted", title=N_("Dark-adapted"), paper="#0A0202", panel="#140505", ink="#E65A47", steel="#D25B4B",
    hairline="#3D120D", metal="#180606", hatch="#6E2219", glass="#3A0F0A", glass_edge="#B8483A",
    axis_light="#A83C2C", corner_light="#CF5A48", good="#D2604C", look="#E0624C", stop="#FF7A66",
    accent="#DE5644", accent_wash="#2E0D09", on_accent="#0A0202", edge="#B04434", dark=True,
)  # fmt: skip

PRINT = Theme(
    name="print", title=N_("Print, high contrast"), paper="#FFFFFF", panel="#FFFFFF", ink="#000000", steel="#363636",
    hairline="#8A8A8A", metal="#FFFFFF", hatch="#6A6A6A", glass="#D9D9D9", glass_edge="#000000",
    axis_light="#7A4B00", corner_light="#3D1466", good="#00481F", look="#6B3A00", stop="#8F0000",
    accent="#003A8C", accent_wash="#DCE6F7", on_accent="#FFFFFF", edge="#363636", dark=False,
)  # fmt: skip

THEMES = {theme.name: theme for theme in (PAPER, LAMP_ROOM, DARK_ADAPTED, PRINT)}


def following(theme: Theme) -> Theme:
    """Return the theme the switch goes to next."""
    names = list(THEMES)
    return THEMES[names[(names.index(theme.name) + 1) % len(names)]]
