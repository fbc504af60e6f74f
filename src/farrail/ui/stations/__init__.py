"""The stations: panels that each answer one question about the train."""
