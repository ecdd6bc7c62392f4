import { Sender } from '../../../runtime/src/send';
import type { Configuration, Props } from '../../../runtime/src/types';

/** An event that the page has told of, and what became of it. */
export interface Told {
    id: string;
    name: string;
    at: string;
    url: string;
    props: Props;
    /** HTTP status of the collector's answer; 0 while it is on its way. */
    status: number;
    /** Why the collector has refused it. */
    refused: string | null;
}

const MOST = 300;
/** Where a click on the Loupe itself ends. */
const OWN = /(^|>)plx-loupe$/;

/** What all previews of this page have told; whoever shows it is told of each change. */
export const told: Told[] = [];
const listeners = new Set<() => void>();

export function onTold(listener: () => void): () => void {
    listeners.add(listener);

    return () => listeners.delete(listener);
}

/** Sends as the runtime does, each event marked as a preview's; keeps nothing in the browser; remembers what the collector says. */
export class PreviewSender extends Sender {
    constructor(configuration: Configuration, visitor: string) {
        super(configuration, visitor, false);
        this.common = { preview: true, me: 'preview' };
    }

    override add(name: string, props: Props = {}, referrer?: string): string {
        if (typeof props.path === 'string' && OWN.test(props.path)) {
            return '';
        }
        const id = super.add(name, props, referrer);
        told.push({ id, name, at: new Date().toISOString(), url: location.href, props, status: 0, refused: null });
        told.splice(0, told.length - MOST);
        listeners.forEach((one) => one());

        return id;
    }

    override answered = (batch: [id: string, event: string][], status: number, text: string): void => {
        let reasons: Record<string, string> = {};
        let all: string | null = null;
        try {
            const answer = JSON.parse(text) as { message?: string; rejected?: { id: string | null; message: string }[] };
            all = status >= 400 ? (answer.message ?? null) : null;
            reasons = Object.fromEntries((answer.rejected ?? []).map(({ id, message }) => [id ?? '', message]));
        } catch {
            // Whoever answered was not the collector.
        }
        const ids = new Set(batch.map(([id]) => id));
        told.filter(({ id }) => ids.has(id)).forEach((one) => Object.assign(one, { status, refused: reasons[one.id] ?? all }));
        listeners.forEach((one) => one());
    };
}
