"""Simulated are-ins for outside devices; each says that it is one."""
