"""What is on a shelf: values with provenance, connections, glass and the kinds of part."""
