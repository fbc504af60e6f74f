"""The program's place on the desktop: entry, icons, file type, manual and completion, put there and taken away."""
