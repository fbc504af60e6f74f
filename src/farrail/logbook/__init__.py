"""What was seen: observations, what they teach of a train's parts, and trains side by side."""
