import { allows, consent, keepConsent } from './consent';
import { keeping } from './keeping';
import type { Page } from './page';
import { safely, show } from './safely';
import type { Trace } from './tags';
import type { Configuration, Props } from './types';

type Call = [command: string, ...rest: unknown[]];

export interface Api {
    (...call: Call): void;
    waiting?: ArrayLike<unknown>[];
    running?: boolean;
    trace?: Trace[];
}

const MOST_EARLY = 100;

/** Takes the calls that the snippet has queued, and those to come. */
export function listen(configuration: Configuration, open: (cookies: string) => Page): void {
    let page: Page | null = null;
    const early: ArrayLike<unknown>[] = [];
    const begin = (): void => {
        const cookies = keeping.cookies();
        if (!page && allows(configuration, 'statistics', cookies)) {
            page = open(cookies);
            api.trace = page.trace;
            page.begin();
            early.splice(0).forEach(take);
        }
    };
    const agree = (categories: string[]): void => {
        keepConsent(configuration, categories);
        if (!allows(configuration, 'statistics')) {
            early.splice(0);
        }
        if (page && !allows(configuration, 'statistics')) {
            page.end();
            page = null;
            // Once more: what was under way may have kept something meanwhile.
            keepConsent(configuration, categories);
        }
        begin();
    };
    const take = (call: ArrayLike<unknown>): void =>
        safely(() => {
            const [command, first, second] = Array.from(call) as Call;
            if (command === 'consent') {
                agree((Array.isArray(first) ? first : []).filter((one) => /^[a-z]+$/.test(String(one))).map(String));
            } else if (!page) {
                // Kept in memory only, until the visitor is asked; what happens after a refusal is nobody's.
                if (!consent()) {
                    early.push(call);
                    early.splice(0, early.length - MOST_EARLY);
                }
            } else if (command === 'event' && typeof first === 'string') {
                page.event(first, (second ?? {}) as Props);
            } else if (command === 'order') {
                page.event('order', (first ?? {}) as Props);
            } else if (command === 'user') {
                page.identify(first);
            } else if (command === 'visitor' && typeof first === 'function') {
                (first as (id: string) => void)(page.id);
            } else if (command === 'trace' && typeof first === 'function') {
                (first as (trace: Trace[]) => void)(page.trace);
            }
        });
    const waiting = window.pellix?.waiting ?? [];
    const api: Api = (...call) => take(call);
    api.running = true;
    window.pellix = api;
    begin();
    if (!page) {
        // Nothing will be changed before the visitor has agreed.
        show();
    }
    waiting.forEach(take);
}
