"""The command line: each command parses, makes one public call, and prints."""
