"""The front stack: what it darkens over the zoom, sheets in their slots, which graduated filter."""
