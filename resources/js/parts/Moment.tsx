import { useSite } from '../api/queries';
import { useSiteKey } from '../app/address';

/** A moment in the site's time zone; the title says which zone, and the moment in UTC. */
export function Moment({ at, seconds = false }: { at: string | null | undefined; seconds?: boolean }) {
    const zone = useSite(useSiteKey()).data?.time_zone ?? 'UTC';
    if (!at) {
        return <span className="text-soft">never</span>;
    }
    const date = new Date(at);
    const text = new Intl.DateTimeFormat('en-GB', {
        timeZone: zone,
        day: 'numeric',
        month: 'short',
        hour: '2-digit',
        minute: '2-digit',
        second: seconds ? '2-digit' : undefined,
        year: date.getFullYear() === new Date().getFullYear() ? undefined : 'numeric',
    }).format(date);

    return (
        <time dateTime={at} title={`${zone}; ${date.toISOString()}`} className="whitespace-nowrap">
            {text}
        </time>
    );
}
