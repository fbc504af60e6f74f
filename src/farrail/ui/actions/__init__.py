"""Commands: what menus, keys and the palette call."""
