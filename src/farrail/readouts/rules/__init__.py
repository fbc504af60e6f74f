"""The rules that turn readouts into findings, one subject a file."""
