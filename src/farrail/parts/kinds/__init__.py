"""The kinds of part, a family a file; `registry.py` finds them all."""
