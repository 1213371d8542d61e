"""What trees, groups and the words of groups say, for the screens, the evidence and the exports."""
