import { realCookies } from '../preview/jar';
import type { Configuration } from '../../../runtime/src/types';

export interface StoredValue {
    where: 'cookie' | 'local storage' | 'session storage';
    name: string;
    value: string;
    meaning: string;
    ends: string;
}

/** What Pellix keeps in this browser, of the real visitor; previews read and write none of it. */
export function storedValues(configuration: Configuration): StoredValue[] {
    const days = `${Math.round(configuration.cookieSeconds / 86_400)} days after the last page`;
    const cookies = Object.entries(realCookies())
        .filter(([name]) => name.startsWith('plx_'))
        .map(([name, value]): StoredValue => ({
            where: 'cookie',
            name,
            value,
            meaning: meaning(name),
            ends: name === 'plx_from' ? 'a minute later' : days,
        }));
    const inStorage = (['localStorage', 'sessionStorage'] as const).flatMap((storage) => {
        try {
            return Object.entries({ ...window[storage] })
                .filter(([name]) => name.startsWith('plx_') && name !== 'plx_loupe')
                .map(([name, value]): StoredValue => ({
                    where: storage === 'localStorage' ? 'local storage' : 'session storage',
                    name,
                    value: String(value),
                    meaning: meaning(name),
                    ends: storage === 'localStorage' ? 'never by itself' : 'with this tab',
                }));
        } catch {
            return [];
        }
    });

    return [...cookies, ...inStorage];
}

function meaning(name: string): string {
    const known: Record<string, string> = {
        plx_visitor: 'The visitor’s random id.',
        plx_variants: 'The variants that the visitor has got, each with the day.',
        plx_me: 'The mark by which somebody finds their own visits in the live feed.',
        plx_consent: 'What the visitor has agreed to.',
        plx_from: 'Where a redirect test has led from.',
        plx_unsent: 'Events that are not confirmed yet.',
        plx_gone: 'When redirect tests have led on, so that none leads round in circles.',
    };

    return known[name] ?? (name.startsWith('plx_tag_') ? `The tag ${name.slice(8)} has fired.` : 'Not of this version.');
}
