"""Django's SQLite backend, but for one thing: a server never makes a new, empty database."""
