"""What a placed train predicts: figures with their working, and findings."""
