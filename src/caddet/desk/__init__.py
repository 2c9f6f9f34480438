"""The application's window. Nothing here is computed that a core function could."""
