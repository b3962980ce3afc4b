"""The process that watches the desktop session for one runner.

Reports the window in front, a keyboard taken by others (a locked screen, a grab), presses of the halt key, and changes
of the keyboard layout. The process paints nothing, since painting would delay reports.
"""
