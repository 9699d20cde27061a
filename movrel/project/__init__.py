"""A project at one moment: the texts of its files, the classes in them, and the models loaded from them."""
