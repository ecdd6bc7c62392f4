import type { Bus } from './bus';
import { watch } from './changes';
import { safely } from './safely';
import type { Trigger } from './types';

/** Tells when an element is there that triggers wait for: at once or as soon as it appears, once a page view. */
export class Elements {
    private readonly selectors: string[];
    private waiting: string[] = [];
    private end: (() => void) | null = null;

    constructor(
        triggers: (Trigger | undefined)[],
        private readonly tell: (selector: string) => void,
        bus: Bus,
    ) {
        const selectors = triggers.map((trigger) => (trigger?.kind === 'element' ? (trigger.selector ?? '') : ''));
        this.selectors = [...new Set(selectors)].filter(isSelector);
        bus.on('look', () => this.start());
        bus.on('finish', (movingOn) => movingOn && this.stop());
    }

    stop(): void {
        this.end?.();
        this.end = null;
    }

    private start(): void {
        this.waiting = this.selectors;
        this.look();
        if (this.waiting.length > 0) {
            this.end = watch((grown) => grown && this.look(), []);
        }
    }

    private look(): void {
        const found = this.waiting.filter((selector) => document.querySelector(selector));
        if (found.length === 0) {
            return;
        }
        this.waiting = this.waiting.filter((selector) => !found.includes(selector));
        if (this.waiting.length === 0) {
            this.stop();
        }
        found.forEach((selector) => safely(() => this.tell(selector)));
    }
}

export function isSelector(text: string): boolean {
    try {
        return text !== '' && (document.createDocumentFragment().querySelector(text), true);
    } catch {
        return false;
    }
}
