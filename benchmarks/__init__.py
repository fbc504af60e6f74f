"""Measured speeds, each beside its yardstick in the same run: ./far-rail benchmark [--json]."""
