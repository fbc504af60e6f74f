"""The workbook that ships with the program: the demo."""
