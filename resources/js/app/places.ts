import type { Schemas } from '../api/client';
import { address } from './address';

/** Something that one can go to, with what kind of thing it is. */
export interface Place {
    label: string;
    detail: string;
    to: string;
}

interface Known {
    sites?: { key: string; name: string }[];
    experiments?: { key: string; name: string }[];
    goals?: { key: string; name: string }[];
    tags?: { key: string; name?: string }[];
    events?: { name: string }[];
    people?: Schemas['Member'][];
    pages?: Pick<Schemas['Coverage']['pages'][number], 'id' | 'url'>[];
}

/** Every section, view and command, and what the site has: experiments, goals, tags, events, people, pages; and the other sites. */
export function placesOf(site: string, known: Known): Place[] {
    return [
        { label: 'Bench', detail: 'section', to: address.bench(site) },
        { label: 'Wiring', detail: 'section', to: address.wiring(site) },
        { label: 'Measures', detail: 'section', to: address.goals(site) },
        { label: 'Audits', detail: 'section', to: address.audits(site) },
        { label: 'Logbook', detail: 'section', to: address.logbook(site) },
        { label: 'What was published', detail: 'wiring', to: address.published(site) },
        { label: 'Snippet and guard', detail: 'wiring', to: address.wiring(site) },
        { label: 'Tags', detail: 'wiring', to: address.tags(site) },
        { label: 'Coverage', detail: 'wiring', to: address.coverage(site) },
        { label: 'Pages that are broken', detail: 'coverage', to: `${address.coverage(site)}?state=broken` },
        { label: 'A/A rehearsal of the installation', detail: 'wiring', to: address.installation(site) },
        { label: 'What must stand where', detail: 'wiring', to: address.groups(site) },
        { label: 'Hand-off briefs', detail: 'wiring', to: address.briefs(site) },
        { label: 'Goals', detail: 'measures', to: address.goals(site) },
        { label: 'Live feed', detail: 'measures', to: address.feed(site) },
        { label: 'Tracking plan', detail: 'measures', to: address.events(site) },
        { label: 'What is captured', detail: 'measures', to: address.capture(site) },
        { label: 'Notices: troubles of running experiments', detail: 'notices', to: address.notices(site) },
        { label: 'What I am told, and when not', detail: 'notices', to: address.notices(site, 'settings') },
        { label: 'Webhooks', detail: 'notices', to: address.notices(site, 'webhooks') },
        { label: 'What was told to whom', detail: 'notices', to: address.notices(site, 'told') },
        { label: 'Outbox', detail: 'mails kept here', to: address.notices(site, 'outbox') },
        { label: 'Internal traffic', detail: 'own people, who are not counted', to: address.internal(site) },
        { label: 'People', detail: 'who may do what', to: address.people(site) },
        { label: 'What we have learned', detail: 'decisions', to: address.learned(site) },
        { label: 'Audit a log', detail: 'command', to: address.auditLogs(site) },
        { label: 'Reconcile with another source', detail: 'command', to: address.reconcile(site) },
        { label: 'Copy the snippet', detail: 'command', to: address.wiring(site) },
        { label: 'Inspect a page', detail: 'command', to: address.inspect(site) },
        { label: 'Find pages', detail: 'command', to: address.coverage(site) },
        { label: 'Make a tag', detail: 'command', to: address.tags(site, 'new') },
        { label: 'Define a goal', detail: 'command', to: address.goals(site, 'new') },
        { label: 'Make an experiment', detail: 'command', to: address.newExperiment(site) },
        { label: 'Hand the job to somebody', detail: 'command', to: address.briefs(site) },
        ...(known.experiments ?? []).map((one) => ({ label: one.name, detail: one.key, to: address.experiment(site, one.key) })),
        ...(known.goals ?? []).map((one) => ({ label: one.name, detail: `goal ${one.key}`, to: address.goals(site, one.key) })),
        ...(known.tags ?? []).map((one) => ({ label: one.name ?? one.key, detail: `tag ${one.key}`, to: address.tags(site, one.key) })),
        ...(known.events ?? []).map((one) => ({ label: one.name, detail: 'event', to: address.events(site, one.name) })),
        ...(known.people ?? []).map((one) => ({ label: one.name, detail: `person ${one.email}`, to: address.people(site, one.id) })),
        ...(known.pages ?? []).map((one) => ({ label: one.url, detail: 'page', to: address.coverage(site, one.id) })),
        ...(known.sites ?? [])
            .filter((one) => one.key !== site)
            .map((one) => ({ label: one.name, detail: `site ${one.key}`, to: address.bench(one.key) })),
    ];
}

/** Those in whose name each word stands, wherever; what begins with the first word comes first. */
export function findPlaces(places: Place[], words: string): Place[] {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    const found = places.filter((place) => wanted.every((word) => `${place.label} ${place.detail}`.toLowerCase().includes(word)));
    const begins = (place: Place): number => (place.label.toLowerCase().startsWith(wanted[0] ?? '') ? 0 : 1);

    return wanted.length === 0 ? found : [...found].sort((a, b) => begins(a) - begins(b));
}
