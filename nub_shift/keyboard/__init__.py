"""Key codes and names, and keyboard layouts: what this session's keyboard types and prints."""
