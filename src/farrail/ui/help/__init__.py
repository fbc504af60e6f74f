"""Help where it is needed: pages that ship with the program, the glossary, and which page is about what."""
