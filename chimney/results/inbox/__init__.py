"""Files that the scanner's own program saves into the inbox."""
