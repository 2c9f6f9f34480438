"""The door: every file, picture, table and archive that comes from outside is read here; and writing that never leaves half a file."""
