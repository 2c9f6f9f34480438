"""From stitch lines to cut lines: allowances, corners, notches and labels."""
