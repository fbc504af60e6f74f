"""Exposure: what a train costs in light, and the ways to pay for it."""
