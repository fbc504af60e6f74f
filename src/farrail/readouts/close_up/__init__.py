"""Close-up: how large, how near, how deep."""
