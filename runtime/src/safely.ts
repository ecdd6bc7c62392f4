/** Runs a piece of work so that no error of ours ever reaches the page. */
export function safely(work: () => void): void {
    try {
        work();
    } catch (error) {
        console.warn('pellix:', error);
    }
}

/** Lets the flicker guard go (core/src/Wiring/Guard.php), where the page has one. */
export function show(): void {
    safely(() => window.pellixShow?.());
}
