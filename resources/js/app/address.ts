import { useParams } from 'react-router';
import type { LinkName } from '../api/client';

/** Every view has an address; this is where they are spelled. */
export const address = {
    bench: (site: string) => `/sites/${site}/bench`,
    wiring: (site: string) => `/sites/${site}/wiring`,
    coverage: (site: string, page?: number) => `/sites/${site}/wiring/coverage${page ? `/${page}` : ''}`,
    coverageFile: (site: string, filters: string) => `/api/sites/${site}/pages.csv${filters}`,
    groups: (site: string) => `/sites/${site}/wiring/groups`,
    tags: (site: string, tag?: string) => `/sites/${site}/wiring/tags${tag ? `/${tag}` : ''}`,
    version: (site: string, number: number, against: number) => `/sites/${site}/wiring/versions/${number}?against=${against}`,
    people: (site: string, person?: number) => `/sites/${site}/people${person ? `/${person}` : ''}`,
    briefs: (site: string, experiment?: string, variant?: string) =>
        `/sites/${site}/wiring/briefs${experiment ? `?experiment=${experiment}&variant=${variant ?? ''}` : ''}`,
    inspect: (site: string) => `/sites/${site}/wiring/inspect`,
    goals: (site: string, goal?: string) => `/sites/${site}/measures${goal ? `/goals/${goal}` : ''}`,
    feed: (site: string, event?: string) => `/sites/${site}/measures/feed${event ? `/${encodeURIComponent(event)}` : ''}`,
    events: (site: string, name?: string) => `/sites/${site}/measures/events${name ? `/${name}` : ''}`,
    planFile: (site: string, format: 'json' | 'csv') => `/api/sites/${site}/plan.${format}`,
    capture: (site: string) => `/sites/${site}/measures/capture`,
    newExperiment: (site: string) => `/sites/${site}/experiments/new`,
    experiment: (site: string, key: string, link?: LinkName) => `/sites/${site}/experiments/${key}${link ? `/${link}` : ''}`,
    experimentView: (site: string, key: string, view: 'plan' | 'ready' | 'preview' | 'rehearsal' | 'audits' | 'readout' | 'logbook') =>
        `/sites/${site}/experiments/${key}/${view}`,
    rehearsal: (site: string, key: string, run: number) => `/sites/${site}/experiments/${key}/rehearsal?run=${run}`,
    installation: (site: string, run?: number) => `/sites/${site}/wiring/installation${run ? `?run=${run}` : ''}`,
    rehearsalFile: (site: string, run: number, name: string) => `/api/sites/${site}/rehearsals/${run}/files/${name}`,
    rehearsalReport: (site: string, run: number, form: 'report.html' | 'junit.xml') => `/api/sites/${site}/rehearsals/${run}/${form}`,
    audits: (site: string) => `/sites/${site}/audits`,
    audit: (site: string, audit: number, view?: string) => `/sites/${site}/audits/${audit}${view ? `/${view}` : ''}`,
    auditLogs: (site: string, log?: number) => `/sites/${site}/audits/logs${log ? `/${log}` : ''}`,
    auditReport: (site: string, audit: number, format: 'html' | 'json' | 'csv', whole = false) =>
        `/api/sites/${site}/audits/${audit}/report.${format}${whole ? '?whole=1' : ''}`,
    reconcile: (site: string, reconciliation?: number) => `/sites/${site}/audits/reconcile${reconciliation ? `/${reconciliation}` : ''}`,
    notices: (site: string, part?: 'settings' | 'webhooks' | 'told' | 'outbox', mail?: number) =>
        `/sites/${site}/notices${part ? `/${part}` : ''}${mail ? `/${mail}` : ''}`,
    readoutFile: (site: string, key: string, format: 'html' | 'json' | 'csv') => `/api/sites/${site}/experiments/${key}/readout.${format}`,
    learned: (site: string) => `/sites/${site}/learned`,
    published: (site: string) => `/sites/${site}/wiring/published`,
    account: (site: string, part?: 'codes' | 'sessions' | 'tokens') => `/sites/${site}/account${part ? `/${part}` : ''}`,
    firstSteps: (site: string) => `/sites/${site}/first-steps`,
    settings: (site: string) => `/sites/${site}/settings`,
    internal: (site: string) => `/sites/${site}/internal-traffic`,
    requests: (site: string, request?: number) => `/sites/${site}/requests${request ? `/${request}` : ''}`,
    siteFile: (site: string) => `/api/sites/${site}/export.json`,
    securityLog: (site: string) => `/sites/${site}/logbook/security`,
    logbook: (site: string) => `/sites/${site}/logbook`,
    logbookFile: (site: string, filters: string) => `/api/sites/${site}/logbook.csv${filters ? `?${filters}` : ''}`,
    experimentFile: (site: string, key: string) => `/api/sites/${site}/experiments/${key}/file`,
};

/** The key of the site that the address names. */
export function useSiteKey(): string {
    return useParams().site ?? '';
}
