import { keeping } from './keeping';
import { mask, maskAll } from './mask';
import type { Configuration, Props } from './types';
import { randomId } from './visitor';

const WAIT = 250;
const LONGEST_WAIT = 30_000;
/** As long as a collector may ask for patience. */
const LONGEST_PATIENCE = 300_000;
/** The collector's own limits (core/src/Events/Beacon.php), with room to spare. */
const MOST_EVENTS = 50;
const MOST_CHARACTERS = 20000;
const MOST_WAITING = 500;
const MOST_KEPT = 100_000;
const LONGEST_ADDRESS = 2000;
const KEPT = 'plx_unsent';

/**
 * Collects events for a moment and sends them together. An event is kept in the browser until the collector has confirmed
 * it, so that what a failed connection, a closed page or a collector that is down swallowed is sent again, at the latest
 * from the next page. The collector knows events by their ids and stores each once.
 */
export class Sender {
    /** Events as JSON, by id: what cannot be written as JSON fails where it is added, not where it is sent. */
    private waiting = new Map<string, string>();
    /** Ids that are on their way. */
    private sending = new Set<string>();
    /** Ids that were handed over on leaving: nobody heard whether they arrived. */
    private handed = new Set<string>();
    private addresses = new Map<string, string>();
    private restored = false;
    private timer = 0;
    private wait = WAIT;
    /** Events that were let go because too many waited, and that nobody was told of yet. */
    private dropped = 0;
    private readonly open = new AbortController();

    user: string | null = null;
    /** For whoever wants to know what the collector says of which events. */
    answered?: (batch: [id: string, event: string][], status: number, text: string) => void;
    /** Added to the properties of every event: the mark of a person who looks for their own visits. */
    common: Props = {};

    constructor(
        private readonly configuration: Configuration,
        private readonly visitor: string,
        private readonly mayKeep: boolean,
    ) {
        // What is left from an earlier page is read when the page has settled: storage takes its time.
        this.later();
    }

    /** An event whose properties are the site's own: what looks personal in them is masked. */
    addForeign(name: string, props: Props): string {
        const masked = maskAll(props) as Props;
        const isMasked = JSON.stringify(masked) !== JSON.stringify(props);

        return this.add(name, isMasked ? { ...masked, masked: true } : masked);
    }

    /** @returns the id of the event */
    add(name: string, props: Props = {}, referrer = document.referrer): string {
        const id = randomId();
        if (this.open.signal.aborted) {
            return id;
        }
        const url = this.masked(location.href);
        const event = {
            id,
            visitor: this.visitor,
            user: this.user,
            time: new Date().toISOString(),
            name,
            url,
            referrer: this.masked(referrer),
            props: { ...this.common, ...props, ...(url === location.href.slice(0, LONGEST_ADDRESS) ? {} : { masked: true }) },
        };
        this.waiting.set(id, JSON.stringify(event));
        for (const old of this.waiting.keys()) {
            if (this.waiting.size <= MOST_WAITING) {
                break;
            }
            this.waiting.delete(old);
            this.dropped++;
        }
        this.later();

        return id;
    }

    /** Sends what waits, one beacon after the other. On leaving, all at once: nobody is there any more to hear the answer. */
    flush(leaving = false): void {
        if (this.open.signal.aborted) {
            return;
        }
        window.clearTimeout(this.timer);
        this.timer = 0;
        this.restore();
        this.keep();
        if (!leaving && this.sending.size > 0) {
            // The answer to what is on its way brings the next beacon.
            return;
        }
        const ready = [...this.waiting].filter(([id]) => !this.sending.has(id) && !this.handed.has(id));
        while (ready.length > 0) {
            let count = 0;
            let characters = 0;
            while (count < Math.min(ready.length, MOST_EVENTS) && (count === 0 || characters < MOST_CHARACTERS)) {
                characters += ready[count++][1].length;
            }
            const batch = ready.splice(0, count);
            if (!leaving) {
                void this.send(batch);

                return;
            }
            batch.forEach(([id]) => this.handed.add(id));
            navigator.sendBeacon?.(this.configuration.collector, this.body(batch));
        }
    }

    /** Nothing is sent or kept from now on; what is on its way is called back. */
    close(): void {
        window.clearTimeout(this.timer);
        this.open.abort();
        this.waiting.clear();
    }

    /** The page has come back after all: what was handed over on leaving is asked after. */
    comeBack(): void {
        this.handed.clear();
        this.later();
    }

    /** Takes what an earlier page could not send, once. */
    private restore(): void {
        if (this.restored) {
            return;
        }
        this.restored = true;
        const own = [...this.waiting];
        this.waiting.clear();
        for (const text of this.kept()) {
            const id = /"id":"([^"]+)"/.exec(text)?.[1];
            if (id) {
                this.waiting.set(id, text);
            }
        }
        own.forEach(([id, text]) => this.waiting.set(id, text));
    }

    private async send(batch: [string, string][]): Promise<void> {
        batch.forEach(([id]) => this.sending.add(id));
        let confirmed = false;
        let patience = 0;
        const dropped = this.dropped;
        try {
            // A text body makes a simple request: no preflight from another origin.
            const answer = await fetch(this.configuration.collector, {
                method: 'POST',
                body: this.body(batch),
                keepalive: true,
                credentials: 'omit',
                signal: this.open.signal,
            });
            // Browsers allow so many bytes to be under way that outlive the page, and count a request until its answer is read.
            const text = await answer.text();
            this.answered?.(batch, answer.status, text);
            // What is refused for good would be refused again.
            confirmed = answer.ok || (answer.status >= 400 && answer.status < 500 && answer.status !== 429);
            patience = confirmed ? 0 : Math.min(LONGEST_PATIENCE, 1000 * (Number(answer.headers?.get('Retry-After')) || 0));
        } catch {
            // No connection, or the page is going away.
        }
        if (this.open.signal.aborted) {
            return;
        }
        batch.forEach(([id]) => {
            this.sending.delete(id);
            if (confirmed) {
                this.waiting.delete(id);
            }
        });
        if (confirmed) {
            this.dropped -= dropped;
        }
        this.keep();
        // All who were asked to wait must not come back at the same moment.
        this.wait = confirmed
            ? WAIT
            : Math.max(patience * (1 + Math.random() / 2), Math.min(LONGEST_WAIT, Math.min(LONGEST_WAIT, this.wait) * 3));
        if (this.waiting.size > this.handed.size) {
            if (confirmed) {
                this.flush();
            } else {
                this.later();
            }
        }
    }

    /** An address without what looks personal; the same few are asked for with every event. */
    masked(address: string): string {
        let known = this.addresses.get(address);
        if (known === undefined) {
            known = mask(address).slice(0, LONGEST_ADDRESS);
            this.addresses.set(address, known);
        }

        return known;
    }

    private later(): void {
        if (this.open.signal.aborted) {
            return;
        }
        this.timer ||= window.setTimeout(() => this.flush(), this.wait);
    }

    private body(batch: [string, string][]): string {
        const head = JSON.stringify({
            pellix: 1,
            site: this.configuration.site,
            sent: new Date().toISOString(),
            configuration: this.configuration.number,
            ...(this.dropped > 0 ? { dropped: this.dropped } : {}),
        }).slice(0, -1);

        return `${head},"events":[${batch.map(([, text]) => text).join(',')}]}`;
    }

    private kept(): string[] {
        try {
            const texts: unknown = this.mayKeep ? JSON.parse(keeping.storage('localStorage').getItem(KEPT) ?? '[]') : [];

            return Array.isArray(texts) ? texts.filter((text) => typeof text === 'string') : [];
        } catch {
            return [];
        }
    }

    private keep(): void {
        if (!this.mayKeep || this.open.signal.aborted) {
            return;
        }
        const texts = [...this.waiting.values()];
        for (let characters = texts.join('').length; characters > MOST_KEPT;) {
            characters -= texts.shift()?.length ?? characters;
        }
        try {
            if (texts.length > 0) {
                keeping.storage('localStorage').setItem(KEPT, JSON.stringify(texts));
            } else {
                keeping.storage('localStorage').removeItem(KEPT);
            }
        } catch {
            // No storage, or a full one: what waits is lost when the page closes, as it would be without keeping.
        }
    }
}
