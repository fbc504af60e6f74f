"""Far Rail: puts the real parts of an optical train on one rail and predicts what the sensor will see."""

__version__ = "0.1.0"
