"""Pictures as evidence: what flats, dust, stars and a ruler in a frame say of the train that took it."""
