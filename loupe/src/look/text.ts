import type { Heard, Opening } from '../answers';
import type { Told } from '../preview/PreviewSender';
import type { Running } from '../preview/run';
import type { Ticket } from '../ticket';
import { changesOf, changeWords } from './changes';
import { entryOf } from './entry';
import { losingWords } from './overruled';
import { storedValues } from './stored';
import type { Traced } from './trace';

interface Seen {
    opening: Opening;
    ticket: Ticket;
    running: Running;
    /** The page that it runs on. */
    page: Document;
    heard: Heard | null;
    events: Told[];
}

/** All that the Loupe shows of a page, for a ticket. */
export async function asText({ opening, ticket, running, page: shownOn, heard, events }: Seen): Promise<string> {
    const { configuration, page } = running;
    const lines = [
        `${location.href}`,
        `${new Date().toISOString()} · ${navigator.userAgent}`,
        `published file ${configuration.number} · wiring version ${configuration.wiring} · preview visitor ${page?.id ?? 'none'} (${ticket.who}) · taken for ${ticket.agent ?? 'what it is'}`,
        '',
        'EXPERIMENTS',
    ];
    for (const experiment of configuration.experiments) {
        const entry = entryOf(experiment, configuration, page);
        const known = opening.experiments.find(({ key }) => key === entry.key);
        lines.push(
            `${known?.name ?? entry.key} (${entry.key}): ${entry.variant === null ? 'not met' : `variant ${entry.variant}, bucket ${entry.bucket}, epoch ${known?.epoch}`}. ${entry.why}`,
        );
        lines.push(...ruleLines('pages', entry.pages), ...(entry.audience ? ruleLines('audience', entry.audience) : []));
        for (const one of (page?.experiments.shown ?? [])
            .filter((shown) => shown.experiment === experiment)
            .flatMap((shown) => changesOf(shown, shownOn))) {
            lines.push(`  ${one.number}. ${one.state}: ${changeWords(one.change)} ${one.why}`);
            lines.push(...(await losingWords(one)).map((words) => `     not in effect: ${words}`));
        }
    }
    const verdicts = new Map((heard?.events ?? []).map((one) => [one.id, one]));
    lines.push('', 'EVENTS');
    events.forEach((one) => {
        const answer = one.refused !== null ? `refused: ${one.refused}` : one.status === 0 ? 'on its way' : `answer ${one.status}`;
        lines.push(`${one.at} ${one.name} ${JSON.stringify(one.props)} · ${answer} · ${verdicts.get(one.id)?.verdict ?? 'no verdict yet'}`);
    });
    lines.push(
        '',
        'GOALS',
        ...(heard?.goals ?? []).map(({ name, hits }) => `${name}: ${hits.length === 0 ? 'not reached' : `reached ${hits.length} times`}`),
    );
    lines.push('', 'TAGS', ...(page?.trace ?? []).map((one) => `${one.at} ${one.tag} ${one.fired ? 'fired' : 'not fired'}: ${one.why}`));
    lines.push(
        '',
        'KEPT IN THE BROWSER',
        ...storedValues(configuration).map((one) => `${one.where} ${one.name}=${one.value} · ${one.meaning} Ends ${one.ends}.`),
    );

    return lines.join('\n');
}

function ruleLines(name: string, rule: Traced, depth = 1): string[] {
    const mark = rule.holds ? 'yes' : 'NO';
    const found = rule.parts.length > 0 ? '' : rule.found === null ? ' (not known here)' : ` (is ${rule.found})`;

    return [
        `${'  '.repeat(depth)}${name === '' ? '' : `${name}: `}${mark} ${rule.words}${found}`,
        ...rule.parts.flatMap((part) => ruleLines('', part, depth + 1)),
    ];
}
