import { Navigate, useLocation } from 'react-router';
import { useSite } from '../api/queries';
import { useSiteKey } from './address';

/** An address with a key that the site had before leads to the same place under the key that it has now. */
export function Moved() {
    const site = useSiteKey();
    const { pathname, search, hash } = useLocation();
    const key = useSite(site).data?.key;

    return key && key !== site ? <Navigate to={pathname.replace(site, key) + search + hash} replace /> : null;
}
