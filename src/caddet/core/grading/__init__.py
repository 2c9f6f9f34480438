"""Grading: a pattern in many sizes, by drafting it again or by rules, and the nest of them."""
