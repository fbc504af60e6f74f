"""The window. Nothing below this package imports Qt, and nothing in it computes a number a readout gives."""
