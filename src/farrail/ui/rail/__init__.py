"""The rail: the train as a cut section, and the gestures on it."""
