import type { Configuration, Props } from './types';
import { randomId } from './visitor';

const WAIT = 250;
/** The collector's own limits (core/src/Events/Beacon.php), with room to spare. */
const MOST_EVENTS = 50;
const MOST_CHARACTERS = 20000;
const MOST_WAITING = 500;
const LONGEST_ADDRESS = 2000;

/** Collects events for a moment and sends them together; what could not be handed over is kept and tried again. */
export class Sender {
    /** Events as JSON: what cannot be written as JSON fails where it is added, not where it is sent. */
    private waiting: string[] = [];
    private timer = 0;

    constructor(
        private readonly configuration: Configuration,
        private readonly visitor: string,
    ) {}

    add(name: string, props: Props = {}): void {
        this.waiting.push(
            JSON.stringify({
                id: randomId(),
                visitor: this.visitor,
                time: new Date().toISOString(),
                name,
                url: location.href.slice(0, LONGEST_ADDRESS),
                referrer: document.referrer.slice(0, LONGEST_ADDRESS),
                props,
            }),
        );
        this.waiting.splice(0, this.waiting.length - MOST_WAITING);
        this.timer ||= window.setTimeout(() => this.flush(), WAIT);
    }

    flush(): void {
        window.clearTimeout(this.timer);
        this.timer = 0;
        while (this.waiting.length > 0) {
            let count = 0;
            let characters = 0;
            while (count < Math.min(this.waiting.length, MOST_EVENTS) && (count === 0 || characters < MOST_CHARACTERS)) {
                characters += this.waiting[count++].length;
            }
            const events = this.waiting.splice(0, count);
            if (!this.send(events)) {
                this.waiting = [...events, ...this.waiting];
                this.timer = window.setTimeout(() => this.flush(), WAIT * 20);

                return;
            }
        }
    }

    /** A text body makes a simple request: no preflight from another origin. */
    private send(events: string[]): boolean {
        const { site, collector } = this.configuration;
        const head = JSON.stringify({ pellix: 1, site, sent: new Date().toISOString() }).slice(0, -1);
        const body = `${head},"events":[${events.join(',')}]}`;

        return typeof navigator.sendBeacon === 'function' && navigator.sendBeacon(collector, body);
    }
}
