"""Putting a train together: steps and cautions, generated from the train itself by rules on kinds and joints."""
