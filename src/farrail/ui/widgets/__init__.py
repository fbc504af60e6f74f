"""Small widgets the stations share."""
