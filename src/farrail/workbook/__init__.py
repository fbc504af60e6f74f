"""The document: workbook, pure edits, undo history and safe files. Nothing here imports Qt."""
