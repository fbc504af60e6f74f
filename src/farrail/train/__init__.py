"""Parts placed on a rail: the train, its joints, and its layout in absolute positions."""
