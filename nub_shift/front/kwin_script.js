// Tells Nub Shift which window is in front. It is loaded into KWin for as long as pads are played.
function tell(window) {
    callDBus("@service@", "/front", "org.nubshift.Front", "told",
        window ? String(window.internalId) : "",
        window ? String(window.resourceClass) : "",
        window ? String(window.caption) : "",
        window ? String(window.pid) : "0");
}
function inFront() {
    return workspace.activeWindow === undefined ? workspace.activeClient : workspace.activeWindow;
}
function follow(window) {
    tell(window);
    if (window) {
        window.captionChanged.connect(function () {
            if (inFront() === window) {
                tell(window);
            }
        });
    }
}
(workspace.windowActivated || workspace.clientActivated).connect(follow);
follow(inFront());
