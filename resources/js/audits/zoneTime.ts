/** How far the clocks of a time zone are ahead of UTC at a moment, in milliseconds. */
function ahead(at: number, zone: string): number {
    const parts = Object.fromEntries(
        new Intl.DateTimeFormat('en-GB', {
            timeZone: zone,
            hourCycle: 'h23',
            year: 'numeric',
            month: '2-digit',
            day: '2-digit',
            hour: '2-digit',
            minute: '2-digit',
        })
            .formatToParts(new Date(at))
            .map(({ type, value }) => [type, Number(value)]),
    );
    const minute = Math.floor(at / 60_000) * 60_000;

    return Date.UTC(parts.year, parts.month - 1, parts.day, parts.hour, parts.minute) - minute;
}

/** `2026-03-02T14:00`, as clocks of the site show it. */
export function localText(at: string, zone: string): string {
    const ms = new Date(at).getTime();

    return new Date(ms + ahead(ms, zone)).toISOString().slice(0, 16);
}

/** The moment at which clocks of the site show it, in UTC. */
export function inZone(local: string, zone: string): string {
    const as = new Date(`${local}Z`).getTime();
    // Twice: near a change of the clocks the first guess may be an hour off.
    const guess = as - ahead(as, zone);

    return new Date(as - ahead(guess, zone)).toISOString().replace('.000Z', 'Z');
}
