"""Files that all processes see, on whichever machine: in a folder, the database or S3."""
