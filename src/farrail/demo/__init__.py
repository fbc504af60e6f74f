"""Workbooks that ship with the program: the demo and the starter shelf."""
