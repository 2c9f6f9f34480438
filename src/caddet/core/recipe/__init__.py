"""The document: blocks, steps and their values, edits and history."""
