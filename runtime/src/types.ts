import type { Parts } from './parts';

/** What PHP compiled for a site (core/src/Wiring/RuntimeConfiguration.php). */
export interface Configuration {
    /** Under which this was published; every beacon carries it. */
    number: number;
    site: string;
    collector: string;
    hosts: string[];
    domain: string | null;
    cookieSeconds: number;
    sessionSeconds: number;
    /** The array that the site pushes to, by its name on window. */
    dataLayer: string | null;
    /** How pushes become events. */
    dataEvents: DataEvent[];
    /** Whether nothing is kept or sent before the visitor has agreed. */
    ask: boolean;
    /** Whether Global Privacy Control counts as a refusal. */
    gpc: boolean;
    experiments: Experiment[];
    /** Selectors of parts of pages that goals count as seen. */
    areas?: string[];
    /** Number of the published wiring version; 0 for none. */
    wiring: number;
    tags: Tag[];
    parts?: Parts;
}

export interface DataEvent {
    /** The value of the push's `event`. */
    push: string;
    name: string;
    /** property of the event => path in the push */
    props: Record<string, string>;
}

export interface Experiment {
    key: string;
    salt: string;
    share: number;
    pages: Rule;
    /** What starts it on a page that matches; without one, the page view does. */
    trigger?: Trigger;
    /** Who may enter. */
    audience?: Rule;
    /** Whether variants lead to other pages. */
    redirect?: true;
    /** It has ended, and everybody is shown its one variant. */
    serves?: true;
    /** What is assigned: the visitor, where nothing is said. */
    unit?: 'user';
    /** How long a visitor keeps its variant; as long as its id, where nothing is said. */
    lifetimeDays?: number;
    /** Experiments that share nobody, and where in [0, 1) the stretch of this one begins. */
    group?: { key: string; from: number };
    variants: Variant[];
}

export interface Variant {
    key: string;
    /** Where the variant's stretch of [0, 1) ends. */
    end: number;
    changes: Change[];
    /** Where it leads to. */
    target?: string;
    /** Stopped, and whoever has it is given another. */
    moves?: boolean;
}

/** Which members a change has follows from its kind (docs/formats.md). */
export interface Change {
    kind: 'text' | 'html' | 'attribute' | 'style' | 'class' | 'hide' | 'remove' | 'move' | 'insert' | 'sheet' | 'script';
    selector?: string;
    value?: string | null;
    property?: string;
    attribute?: string;
    add?: string[];
    remove?: string[];
    place?: Place;
    /** A selector: where something is moved to. */
    to?: string;
    /** A media condition: it is made while that holds. */
    media?: string;
}

export type Place = 'before' | 'after' | 'first' | 'last';

export interface Trigger {
    kind: 'page' | 'event' | 'click' | 'form' | 'time' | 'scroll' | 'data' | 'element';
    name?: string;
    selector?: string;
    seconds?: number;
    percent?: number;
    when?: Rule;
    pages?: Rule;
}

export interface Tag {
    key: string;
    kind: 'script' | 'html' | 'image';
    code: string;
    consent: 'necessary' | 'statistics' | 'marketing';
    triggers: Trigger[];
    once: 'page' | 'session' | 'visitor' | 'no';
    after?: string;
}

export type Value = string | number | boolean;

export type Rule =
    { all: Rule[] } | { any: Rule[] } | { not: Rule } | { fact: string; op: string; value?: Value | Value[]; ignore?: string[] };

export type Props = Record<string, unknown>;
