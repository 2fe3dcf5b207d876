"""Reading stitch files and job documents."""
