import { createRoot } from 'react-dom/client';
import { ask, Refused, type Opening } from './answers';
import { Draft } from './change/Draft';
import type { Kept } from './change/list';
import { isFramedByStrangers } from './frames';
import { told } from './preview/PreviewSender';
import { Recorder } from './record/Recorder';
import { run, type Running } from './preview/run';
import { drop, keep, ticket as taken, type Ticket } from './ticket';
import { makeHost } from './ui/host';
import { Panel } from './ui/Panel';
import { Unanswered } from './ui/Unanswered';
import { FRAME } from './ui/WidthFrame';

declare global {
    interface Window {
        /** Stands on the page around a frame: what runs in it. */
        pellixFramed?: { running: Running; told: typeof told; page: Document };
    }
}

/** Shows that it is not there: the page is the one that everybody gets. */
function letGo(): void {
    drop();
    window.pellixStart?.();
}

/** The page around, where this one is shown in the Loupe's own frame. */
function around(): Window | null {
    try {
        return window.frameElement?.hasAttribute(FRAME) ? window.parent : null;
    } catch {
        return null;
    }
}

async function begin(ticket: Ticket): Promise<void> {
    // What is shown in the Loupe's own frame is no part of a walk.
    const recorder = new Recorder(around() ? null : ticket.walk, (walk) => {
        ticket.walk = walk;
        keep(ticket);
    });
    let opening: Opening;
    try {
        opening = await ask<Opening>('open', { token: ticket.token, ...(ticket.at ? { at: ticket.at } : {}) });
    } catch (error) {
        if (error instanceof Refused) {
            recorder.set(null);
            letGo();
        } else {
            window.pellixShow?.();
            createRoot(makeHost()).render(<Unanswered onAgain={() => location.reload()} onLeave={letGo} />);
        }

        return;
    }
    // What was chosen may be gone by now.
    ticket.chosen = Object.fromEntries(
        Object.entries(ticket.chosen).filter(([key, variant]) =>
            opening.configuration.experiments.some((one) => one.key === key && one.variants.some((other) => other.key === variant)),
        ),
    );
    const first = opening.experiments.find(({ key }) => key === opening.experiment);
    if (first && !(first.key in ticket.chosen)) {
        // Whoever follows a link to a preview wants to see what is new.
        ticket.chosen[first.key] = opening.variant ?? (first.variants.find(({ control }) => !control) ?? first.variants[0]).key;
    }
    const save = (): void => keep(ticket);
    const outer = around();
    // Where the page is shown in a frame, what is around it runs nothing.
    const running = ticket.width === null || outer ? run(opening, ticket, save) : null;
    save();
    if (outer) {
        outer.pellixFramed = { running: running!, told, page: document };

        return;
    }
    if (!running) {
        window.pellixShow?.();
    }
    const change = (to: Partial<Ticket>, again = false): void => {
        Object.assign(ticket, to);
        save();
        if (again) {
            location.reload();
        }
    };
    const leave = (): void => {
        drop();
        location.reload();
    };
    const { token } = ticket;
    const desk = {
        draft: () => ask<Kept>('draft', { token }),
        keep: (base: Kept['changes'], mine: Kept['changes']) => ask<Kept>('keep', { token, base, mine }),
    };
    const draft = opening.draft && new Draft(opening.draft, desk, ticket.history, save);
    createRoot(makeHost()).render(
        <Panel opening={opening} ticket={ticket} running={running} draft={draft} recorder={recorder} change={change} leave={leave} />,
    );
}

const own = isFramedByStrangers() ? null : taken();
if (own) {
    void begin(own);
} else {
    letGo();
}
