"""The runner that stays for the whole session, and its service manager."""
