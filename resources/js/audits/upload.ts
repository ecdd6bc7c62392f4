import { beginLog, sendPiece, type AuditLog } from '../api/audits';
import { Problem } from '../api/client';

const TRIES = 6;
const WAIT_MS = 1000;

/** Waits, longer each time; stops waiting when it is told to. */
function pause(milliseconds: number, signal: AbortSignal): Promise<void> {
    return new Promise((resolve) => {
        const timer = setTimeout(resolve, milliseconds);
        signal.addEventListener('abort', () => {
            clearTimeout(timer);
            resolve();
        });
    });
}

/**
 * Sends a file piece by piece. A log of the same name and size that has begun to arrive goes on where it was; what was lost on
 * the way is sent again a few times.
 */
export async function upload(
    site: string,
    file: File,
    known: AuditLog[],
    onProgress: (log: AuditLog, waiting: boolean) => void,
    signal: AbortSignal,
): Promise<AuditLog> {
    let log =
        known.find((one) => one.state === 'arriving' && one.name === file.name && one.size === file.size) ??
        (await beginLog(site, file.name, file.size));
    onProgress(log, false);
    let failures = 0;
    while (log.state === 'arriving' && !signal.aborted) {
        try {
            log = await sendPiece(site, log.log, log.received, file.slice(log.received, log.received + log.piece_bytes));
            failures = 0;
            onProgress(log, false);
        } catch (error) {
            // The server may be starting again; what it refuses it will refuse again.
            const passes = error instanceof Problem && (error.status === 0 || error.status >= 500 || error.status === 429);
            if (!passes || ++failures > TRIES) {
                throw error;
            }
            onProgress(log, true);
            await pause(WAIT_MS * 2 ** (failures - 1), signal);
        }
    }

    return log;
}
