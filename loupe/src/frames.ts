/** Whether a page of somebody else shows this one in a frame: there the Loupe does not open, whoever holds the link. */
export function isFramedByStrangers(view: Window = window): boolean {
    if (view.top === view) {
        return false;
    }
    const { hosts = [], collector } = view.pellixSite ?? {};
    const known = (origin: string): boolean => {
        try {
            return hosts.includes(new URL(origin).hostname) || (collector !== undefined && origin === new URL(collector).origin);
        } catch {
            // An origin of its own tells nobody whose it is.
            return false;
        }
    };
    // Where the browser does not list those around, it says at least which page asked for this one.
    const around = view.location.ancestorOrigins
        ? Array.from(view.location.ancestorOrigins)
        : [new URL(view.document.referrer || 'null:').origin];

    return !around.every(known);
}
