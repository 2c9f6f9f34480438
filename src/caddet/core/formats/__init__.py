"""Files in and out, and what the Workroom keeps."""
