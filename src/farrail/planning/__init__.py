"""Searches over what the shelf allows; each result comes with its reason."""
