import { useInspectAddress } from '../../api/wiring';
import { useSiteKey } from '../../app/address';
import { Button } from '../../parts/Button';

/** Has a page looked at, so that there is something known about it. */
export function InspectNow({ address }: { address: string }) {
    const inspect = useInspectAddress(useSiteKey());

    return (
        <p className="my-1 text-sm">
            <Button onClick={() => inspect.mutate(address)} disabled={inspect.isPending}>
                {inspect.isPending ? 'Inspecting…' : 'Inspect it now'}
            </Button>
            {inspect.error && (
                <span role="alert" className="ml-2 text-broken">
                    {inspect.error.message}
                </span>
            )}
        </p>
    );
}
