"""Joints: what does not mate, keeps apart, collides or is not there."""
