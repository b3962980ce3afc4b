"""Files: profiles and pad cards on the disk, their history and library, older schemas brought up to date."""
