import { useMakeLoupeLink, type LinkAsked } from '../../api/loupe';

/** Opens a page of the site, or a copy of it, with the Loupe on it in another tab, under one's own name. */
export function useOnPage(site: string) {
    const make = useMakeLoupeLink(site);
    const open = (asked: Omit<LinkAsked, 'recipient' | 'hours'>, onError?: (error: Error) => void, copy?: string): void => {
        // At once, since a browser opens no tab for whoever has to wait for an answer first.
        const tab = window.open('', '_blank');
        make.mutate(
            { ...asked, recipient: null, hours: LASTS },
            {
                onSuccess: ({ address }) => {
                    if (tab && address) {
                        tab.opener = null;
                        // The link stands behind the #, on the page itself or on a copy of it.
                        tab.location.href = copy ? copy + new URL(address).hash : address;
                    }
                },
                onError: (error) => {
                    tab?.close();
                    onError?.(error);
                },
            },
        );
    };

    return { open, isPending: make.isPending, error: make.error };
}

/** The hours for which a link holds under which somebody looks at a page themselves, or changes it. */
const LASTS = 12;
