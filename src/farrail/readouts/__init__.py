"""What a laid train predicts: figures with their working, and findings."""
