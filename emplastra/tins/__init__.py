"""The pages of the store: what stands on the shelf, what came in, one tin, its label."""
