"""A unit's plate from a photo: the picture made readable, its words, the fields by a grammar of plates."""
