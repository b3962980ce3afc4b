"""The desktop application: talks to a runner through its client, and to the engine for previews."""
