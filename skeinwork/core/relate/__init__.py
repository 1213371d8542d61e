"""What goes with what: distances, trees, groups of documents, the words of a group."""
