"""The Proof: what a pattern has to keep, and what mends it."""
