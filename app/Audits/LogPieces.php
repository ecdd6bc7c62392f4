<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\AuditLog;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;

/**
 * Logs that somebody brings, piece by piece, in order: each is kept at once, so that whoever was interrupted goes on where they
 * were, also after a restart. The database holds them, packed, for whichever machine makes the audit.
 */
final class LogPieces
{
    public const BYTES = 4 * 1024 * 1024;

    public const MOST_BYTES = 2 * 1024 * 1024 * 1024;

    /** Logs of a site, and what they may take together. */
    private const MOST_LOGS = 50;
    private const MOST_OF_SITE = 10 * 1024 * 1024 * 1024;

    private const SAMPLE_BYTES = 1 << 20;

    /** @throws ValidationException */
    public function begin(Site $site, string $name, int $size, User $by): AuditLog
    {
        $known = $site->auditLogs();
        if ((clone $known)->count() >= self::MOST_LOGS || (int) (clone $known)->sum('size') + $size > self::MOST_OF_SITE) {
            throw ValidationException::withMessages(['name' => 'The site has '.self::MOST_LOGS.' logs, or 10 GB of them, already: delete one that is not needed any more.']);
        }
        $now = CarbonImmutable::now('UTC');

        return $site->auditLogs()->create(['name' => $name, 'size' => $size, 'by' => $by->name, 'created_at' => $now, 'last_at' => $now])->refresh();
    }

    /**
     * Takes the next piece. One that is here already is passed over: whoever does not hear the answer sends it again.
     *
     * @param int $offset bytes of the log before it
     *
     * @throws ValidationException
     */
    public function take(AuditLog $log, int $offset, string $bytes): AuditLog
    {
        return DB::transaction(static function () use ($log, $offset, $bytes): AuditLog {
            $log = AuditLog::query()->whereKey($log->id)->lockForUpdate()->firstOrFail();
            $size = strlen($bytes);
            if ($offset + $size <= $log->received) {
                return $log;
            }
            if ($offset !== $log->received) {
                throw ValidationException::withMessages(['offset' => "The next piece begins at byte {$log->received}."]);
            }
            if ($size === 0 || $size > self::BYTES || $offset + $size > $log->size || ($size < self::BYTES && $offset + $size < $log->size)) {
                throw ValidationException::withMessages(['offset' => 'A piece has '.self::BYTES.' bytes; only the last may have fewer, and all together '.$log->size.'.']);
            }
            DB::table('audit_log_pieces')->insert(['audit_log_id' => $log->id, 'number' => intdiv($offset, self::BYTES), 'size' => $size, 'content' => gzencode($bytes, 1)]);
            $log->update(['received' => $offset + $size, 'state' => $offset + $size === $log->size ? 'whole' : 'arriving', 'last_at' => CarbonImmutable::now('UTC')]);

            return $log;
        });
    }

    /** The log as a file of its own, to be deleted by whoever asked for it. */
    public function file(AuditLog $log): string
    {
        $file = (string) tempnam(sys_get_temp_dir(), 'audit');
        $out = fopen($file, 'w') ?: throw new \RuntimeException('No temporary file can be made.');
        $hash = hash_init('sha256');
        for ($number = 0; $number * self::BYTES < $log->size; $number++) {
            $bytes = $this->piece($log, $number);
            hash_update($hash, $bytes);
            if (fwrite($out, $bytes) !== strlen($bytes)) {
                unlink($file);
                throw new \RuntimeException('The disk for temporary files is full.');
            }
        }
        fclose($out);
        $log->update(['sha256' => hash_final($hash)]);

        return $file;
    }

    private function piece(AuditLog $log, int $number): string
    {
        $packed = DB::table('audit_log_pieces')->where('audit_log_id', $log->id)->where('number', $number)->value('content');

        return is_string($packed) ? (string) gzdecode($packed) : throw new \RuntimeException("Piece {$number} of the log is missing.");
    }

    /**
     * The first lines, to be looked at before all of it is read.
     *
     * @return resource
     */
    public function head(AuditLog $log)
    {
        $stream = fopen('php://memory', 'w+') ?: throw new \RuntimeException('No memory for the first lines.');
        $bytes = $log->received === 0 ? '' : substr($this->piece($log, 0), 0, self::SAMPLE_BYTES);
        // The last line is whole only where all of it is here.
        $end = strlen($bytes) < $log->size && ! str_starts_with($bytes, "\x1f\x8b") ? strrpos($bytes, "\n") : false;
        fwrite($stream, $end === false ? $bytes : substr($bytes, 0, $end + 1));
        rewind($stream);

        return $stream;
    }

    /** By its name; null for what it looks like. */
    public function isCsv(AuditLog $log): ?bool
    {
        $name = strtolower((string) preg_replace('/\.gz\z/i', '', $log->name));

        return str_ends_with($name, '.csv') ? true : (str_ends_with($name, 'json') ? false : null);
    }

    /** About how many lines a file has, by its first; none where it is packed. */
    public static function lines(string $file, int $size): int
    {
        $stream = fopen($file, 'r');
        $sample = $stream === false ? '' : (string) fread($stream, self::SAMPLE_BYTES);

        return str_starts_with($sample, "\x1f\x8b") ? 0 : (int) ($size / max(1, strlen($sample) / max(1, substr_count($sample, "\n"))));
    }
}
