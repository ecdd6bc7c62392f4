/** What PHP compiled for a site (core/src/Wiring/RuntimeConfiguration.php). */
export interface Configuration {
    site: string;
    collector: string;
    hosts: string[];
    domain: string | null;
    cookieSeconds: number;
    experiments: Experiment[];
}

export interface Experiment {
    key: string;
    salt: string;
    share: number;
    pages: Rule;
    variants: Variant[];
}

export interface Variant {
    key: string;
    /** Where the variant's stretch of [0, 1) ends. */
    end: number;
    changes: Change[];
}

export interface Change {
    kind: 'text' | 'style';
    selector: string;
    property?: string;
    value: string;
}

export type Value = string | number | boolean;

export type Rule = { all: Rule[] } | { any: Rule[] } | { not: Rule } | { fact: string; op: string; value?: Value | Value[] };

export type Props = Record<string, unknown>;
