/** Pellix does not answer: neither a preview nor the ordinary page would be what it seems. */
export function Unanswered({ onAgain, onLeave }: { onAgain: () => void; onLeave: () => void }) {
    return (
        <div role="alert" className="sheet bottom low">
            <div className="body">
                <p>Pellix does not answer, so there is no preview: this is the page without anything that Pellix does.</p>
                <button type="button" className="plain" onClick={onAgain}>
                    Try again
                </button>{' '}
                <button type="button" className="plain" onClick={onLeave}>
                    End the preview
                </button>
            </div>
        </div>
    );
}
