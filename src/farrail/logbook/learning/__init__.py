"""What observations calibrate of a train's parts: values with honest intervals, and what cannot be shown yet."""
