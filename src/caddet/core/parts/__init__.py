"""Parts: steps that add pieces or finish, close and hold what is there; each sewn to what it comes from."""
