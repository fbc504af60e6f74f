"""Kinds of observation, a family a file."""
