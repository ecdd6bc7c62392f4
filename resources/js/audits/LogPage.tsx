import { useParams } from 'react-router';
import { useSiteKey } from '../app/address';
import { useTitle } from '../parts/useTitle';
import { LogColumns } from './LogColumns';
import { Logs } from './Logs';

/** Logs that were brought to be audited; or one of them, with what its columns mean. */
export function LogPage() {
    const site = useSiteKey();
    const log = Number(useParams().log) || null;
    useTitle('Logs · Audits');

    return log === null ? <Logs site={site} /> : <LogColumns key={log} site={site} log={log} />;
}
