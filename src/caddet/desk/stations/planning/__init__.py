"""The pages of Plan."""
