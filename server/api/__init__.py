"""The API: its errors, its JSON, and in ``main`` the one object that holds all routers."""
