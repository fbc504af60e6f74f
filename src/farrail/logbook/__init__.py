"""What was seen: observations, what they calibrate of a train's parts, and trains side by side."""
