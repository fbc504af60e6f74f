"""Simulated stand-ins for outside devices; each says that it is one."""
