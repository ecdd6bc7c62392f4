<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Experiment;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Audit\Incremental\Checkpoint;
use Pellix\Core\Audit\Incremental\StaleCheckpoint;
use Pellix\Core\Formats\Spool;

/** Keeps what the watch has counted of each running experiment, packed and in pieces, for whichever machine makes its next audit. */
final class Checkpoints
{
    private const PIECE_BYTES = 4 << 20;

    /** More than that, packed, is not kept: then everything is read each time. */
    private const MOST_PIECES = 24;

    /** After so many days everything is read again: the rarest, of which some is let go, does not stay inexact for long. */
    private const WHOLE_EACH_DAYS = 7;

    /**
     * @param string          $settings SHA-256 of all that it goes by
     * @param CarbonImmutable $until    up to when the next audit looks
     *
     * @return array{Checkpoint, CarbonImmutable, CarbonImmutable}|null it, up to when it has counted, and when everything was read last; null where there is none to go on from
     */
    public static function find(Experiment $experiment, bool $isWhole, string $settings, CarbonImmutable $until): ?array
    {
        $kept = DB::table('audit_checkpoints')->where('experiment_id', $experiment->id)->where('is_whole', $isWhole)->where('settings', $settings)
            ->where('until', '<=', $until->format('Y-m-d H:i:s.v'))->where('whole_at', '>', $until->subDays(self::WHOLE_EACH_DAYS)->format('Y-m-d H:i:s.v'))->first();
        if ($kept === null) {
            return null;
        }
        $packed = Spool::file();
        for ($number = 0; $number < $kept->pieces; $number++) {
            $piece = DB::table('audit_checkpoint_pieces')->where('audit_checkpoint_id', $kept->id)->where('number', $number)->value('content');
            if (! is_string($piece)) {
                return null;
            }
            self::write($packed, $piece);
        }
        rewind($packed);
        stream_filter_append($packed, 'zlib.inflate', STREAM_FILTER_READ, ['window' => 15]);
        try {
            return [Checkpoint::read($packed), CarbonImmutable::parse($kept->until, 'UTC'), CarbonImmutable::parse($kept->whole_at, 'UTC')];
        } catch (StaleCheckpoint) {
            return null;
        }
    }

    /** @param CarbonImmutable $begun when its events began to be read: where somebody was erased since, it is not kept */
    public static function keep(Experiment $experiment, bool $isWhole, string $settings, Checkpoint $checkpoint, CarbonImmutable $until, CarbonImmutable $wholeAt, CarbonImmutable $begun): void
    {
        $packed = Spool::file();
        $filter = stream_filter_append($packed, 'zlib.deflate', STREAM_FILTER_WRITE, ['level' => 3, 'window' => 15]);
        $checkpoint->write($packed);
        is_resource($filter) && stream_filter_remove($filter);
        $size = fstat($packed)['size'] ?? 0;
        rewind($packed);
        $pieces = (int) ceil($size / self::PIECE_BYTES);
        DB::transaction(static function () use ($experiment, $isWhole, $settings, $packed, $pieces, $until, $wholeAt, $begun): void {
            $erased = DB::table('sites')->where('id', $experiment->site_id)->lockForUpdate()->value('erased_at');
            DB::table('audit_checkpoints')->where('experiment_id', $experiment->id)->where('is_whole', $isWhole)->delete();
            if ($pieces > self::MOST_PIECES || ($erased !== null && $begun <= CarbonImmutable::parse($erased, 'UTC'))) {
                return;
            }
            $id = DB::table('audit_checkpoints')->insertGetId(['site_id' => $experiment->site_id, 'experiment_id' => $experiment->id, 'is_whole' => $isWhole, 'settings' => $settings, 'until' => $until->format('Y-m-d H:i:s.v'), 'whole_at' => $wholeAt->format('Y-m-d H:i:s.v'), 'pieces' => $pieces]);
            for ($number = 0; $number < $pieces; $number++) {
                DB::table('audit_checkpoint_pieces')->insert(['audit_checkpoint_id' => $id, 'number' => $number, 'content' => (string) stream_get_contents($packed, self::PIECE_BYTES)]);
            }
        });
    }

    /** @param resource $file */
    private static function write($file, string $bytes): void
    {
        fwrite($file, $bytes) === strlen($bytes) || throw new \RuntimeException('The disk for temporary files is full.');
    }
}
