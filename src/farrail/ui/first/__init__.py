"""The first page: what to go on with, and three ways from an empty workbook to a verdict on one's own gear."""
