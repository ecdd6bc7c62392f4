import { Button } from '../../parts/Button';
import { Moment } from '../../parts/Moment';
import type { KeptDraft, Keeping } from './useKeptDraft';

const WORDS: Record<Exclude<Keeping, 'conflict'>, string> = {
    kept: 'Everything is kept.',
    waiting: 'Typing…',
    keeping: 'Keeping…',
    failed: 'Not kept',
};

/** Whether what was typed is kept, the way back and forth, and who else is at it. */
export function KeptBar({ kept }: { kept: KeptDraft }) {
    return (
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm" data-keeping={kept.keeping}>
            <Button onClick={kept.undo} disabled={!kept.canUndo} title="Ctrl Z">
                Undo
            </Button>
            <Button onClick={kept.redo} disabled={!kept.canRedo} title="Ctrl Shift Z">
                Redo
            </Button>
            {kept.keeping === 'conflict' ? (
                <span role="alert" className="flex flex-wrap items-center gap-2 text-broken">
                    {kept.problem} What you typed is still here.
                    <Button onClick={kept.takeTheirs}>Show theirs</Button>
                    <Button onClick={kept.keepMine}>Keep mine instead</Button>
                </span>
            ) : (
                <span role="status" className={kept.keeping === 'failed' ? 'text-broken' : 'text-soft'}>
                    {WORDS[kept.keeping]}
                    {kept.keeping === 'failed' && `: ${kept.problem}`}
                    {kept.keeping === 'kept' && kept.keptAt !== null && (
                        <>
                            {' '}
                            <Moment at={new Date(kept.keptAt).toISOString()} seconds />
                        </>
                    )}
                </span>
            )}
            {kept.told && (
                <span role="status" className="border-l-3 border-doubt pl-2">
                    {kept.told} has changed this draft just now; that is what you see. Undo shows what was before.
                </span>
            )}
        </div>
    );
}
