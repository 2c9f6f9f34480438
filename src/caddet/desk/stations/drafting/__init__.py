"""The pages of Draft."""
