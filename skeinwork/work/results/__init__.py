"""What a strand holds, loaded, cut into parts, and tried before it is made."""
