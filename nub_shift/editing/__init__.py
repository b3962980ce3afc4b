"""The open profile and the open cards: edited, compared, put into words, previewed. No Qt."""
