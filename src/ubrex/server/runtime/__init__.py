"""How a workshop is brought up and down: its data folder, its database server, its web server."""
