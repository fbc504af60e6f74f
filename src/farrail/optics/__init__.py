"""Pure functions on floats and arrays; nothing here knows of parts or trains."""
