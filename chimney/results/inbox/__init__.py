"""What the scanner's own program saves into the inbox."""
