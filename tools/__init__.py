"""What developers run by hand."""
