/** What all pictures have in common: room around the plot, letters, and lines. */
export const FONT = { fontSize: 12, fill: '#5A6472', fontFamily: 'inherit' };
export const INK = '#1B2430';
export const SOFT = '#5A6472';
export const LINE = '#D9D6CC';
export const ACCENT = '#0F6B8A';
export const BROKEN = '#B3261E';

export interface Margin {
    top: number;
    right: number;
    bottom: number;
    left: number;
}

export const MARGIN: Margin = { top: 16, right: 18, bottom: 34, left: 60 };

/** Ticks of an axis of time, in the site's time zone: days where it spans several, else hours. */
export function timeWords(zone: string, spanMs: number): (at: number) => string {
    const format = new Intl.DateTimeFormat('en-GB', {
        timeZone: zone,
        ...(spanMs > 3 * 86_400_000 ? { day: 'numeric', month: 'short' } : { day: 'numeric', hour: '2-digit', minute: '2-digit' }),
    });

    return (at) => format.format(new Date(at));
}

/** The moments at which days begin in a time zone, some of them where there are many. */
export function dayTicks(zone: string, from: number, to: number, most: number): number[] {
    const days: number[] = [];
    const format = new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', hourCycle: 'h23' });
    for (let at = Math.ceil(from / 3_600_000) * 3_600_000; at <= to; at += 3_600_000) {
        if (format.format(new Date(at)) === '00') {
            days.push(at);
        }
    }
    const each = Math.max(1, Math.ceil(days.length / Math.max(1, most)));

    return days.length < 2 ? [from, (from + to) / 2, to] : days.filter((_, i) => i % each === 0);
}
