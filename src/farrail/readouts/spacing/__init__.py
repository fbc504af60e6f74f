"""Spacing: does the sensor land where the optic needs it; focuser travel and guide camera beside it."""
