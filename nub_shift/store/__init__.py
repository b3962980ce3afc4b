"""Files: profiles, cards, history, library, migrations."""
