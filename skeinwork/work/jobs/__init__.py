"""Jobs: plans, where they are carried out, and how far they are."""
