"""Practice: a made-up piece in made-up weather, worked on act by act, judged by the same core as the shop."""
