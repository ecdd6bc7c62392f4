/*
 * Finds what a visitor would use to get from this page to an address: a link that can be seen, or a form; and marks it.
 */
(address) => {
    const there = new URL(address, location.href);
    const isThere = (url) => {
        try {
            const one = new URL(url, location.href);
            return one.origin + one.pathname.replace(/\/$/, '') === there.origin + there.pathname.replace(/\/$/, '');
        } catch {
            return false;
        }
    };
    const isSeen = (one) => one.checkVisibility({ opacityProperty: true, visibilityProperty: true }) && one.getClientRects().length > 0;
    const link = Array.from(document.querySelectorAll('a[href], area[href]')).find((one) => isThere(one.href) && isSeen(one));
    const form = Array.from(document.forms).find((one) => isThere(one.getAttribute('action') ?? location.href));
    (link ?? form)?.setAttribute('data-pellix-way', '');
    return link ? 'link' : form ? 'form' : '';
};
