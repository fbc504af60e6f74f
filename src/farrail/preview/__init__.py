"""The picture a train will take: scenes by angle, what the train does to their light, and the photo that makes."""
