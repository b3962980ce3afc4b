"""What a profile will do, before it is played: strip, tape, practice field."""
