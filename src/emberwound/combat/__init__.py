"""The rules themselves, pure: plain frozen terms and numbers in, one answer out."""
