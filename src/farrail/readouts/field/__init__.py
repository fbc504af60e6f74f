"""Field: what the frame covers, and what of the sky fits into it."""
