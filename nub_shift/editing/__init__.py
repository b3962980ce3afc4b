"""The open profile and cards: edited, compared, in words, previewed."""
