"""The server: HTTP routes, the live socket, and the built front end."""
