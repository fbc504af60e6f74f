"""What observations teach of a train's parts: values with honest intervals, and what cannot be told yet."""
