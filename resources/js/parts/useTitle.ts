import { useEffect } from 'react';

/** The browser's title while a view is shown. */
export function useTitle(title: string): void {
    useEffect(() => {
        const before = document.title;
        document.title = `${title} · Pellix`;

        return () => {
            document.title = before;
        };
    }, [title]);
}
