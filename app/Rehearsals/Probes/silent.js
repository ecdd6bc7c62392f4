/*
 * From now on the page sends nothing any more.
 */
(() => {
    const silence = (window) => {
        try {
            window.navigator.sendBeacon = () => true;
            window.fetch = () => new Promise(() => undefined);
            Array.from(window.frames).forEach(silence);
        } catch {
            // A frame of another origin is not told; it has a gate of its own.
        }
    };
    silence(window);
})();
