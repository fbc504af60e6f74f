"""Edits: pure functions from workbook to workbook, one subject a file."""
