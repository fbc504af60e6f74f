"""Colours, fonts and the style sheet made of them."""
