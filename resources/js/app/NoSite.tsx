import { useNavigate } from 'react-router';
import { useSignOut } from '../api/queries';
import { Button } from '../parts/Button';
import { Door } from './Door';

/** For whoever has signed in and looks after nothing. */
export function NoSite({ name }: { name: string }) {
    const signOut = useSignOut();
    const navigate = useNavigate();

    return (
        <Door>
            <h2 className="mb-3 text-lg font-semibold">No site yet</h2>
            <p className="mb-4">{name}, you look after no site. Ask whoever owns one to invite you; their link brings you there.</p>
            <Button onClick={() => signOut.mutate(undefined, { onSettled: () => navigate('/sign-in') })}>Sign out</Button>
        </Door>
    );
}
