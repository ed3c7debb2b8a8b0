"""The one vocabulary of what is inside a device: for device files, the open network form and the solver."""
