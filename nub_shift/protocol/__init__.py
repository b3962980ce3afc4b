"""The conversation between a runner and its clients: messages, codec, client."""
