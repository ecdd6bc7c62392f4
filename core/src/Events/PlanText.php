<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Csv;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\InvalidJson;
use Pellix\Core\Formats\JsonDocument;

/** A tracking plan as a text: JSON with a JSON Schema an event, or CSV with a row a property. */
final class PlanText
{
    /**
     * @return list<EventPlan>
     *
     * @throws InvalidPlan
     */
    public static function read(string $text): array
    {
        return preg_match('/\A\s*[\[{]/', $text) === 1 ? self::json($text) : EventPlan::fromRows(self::rows($text));
    }

    /** @return list<EventPlan> */
    private static function json(string $text): array
    {
        try {
            $document = JsonDocument::parse($text);
        } catch (InvalidJson $e) {
            throw new InvalidPlan($e->getMessage());
        }
        $fields = new Fields($document->value, InvalidPlan::class, 'A plan');
        if ($fields->raw('pellix') !== 1) {
            throw new InvalidPlan('The format version 1 is needed: "pellix": 1.', 'pellix');
        }
        $plans = [];
        foreach ($fields->list('events') as $i => $event) {
            $plans[] = Fields::within("events.{$i}", static fn (): EventPlan => EventPlan::read($event), InvalidPlan::class);
        }

        return $plans;
    }

    /** @return list<list<string>> */
    private static function rows(string $text): array
    {
        $file = fopen('php://temp', 'w+') ?: throw new \RuntimeException('No temporary file can be made.');
        fwrite($file, (string) preg_replace('/\A\xef\xbb\xbf/', '', $text));
        rewind($file);
        $rows = [];
        while (($row = fgetcsv($file, null, ',', '"', '')) !== false) {
            if ($row !== [null]) {
                $rows[] = array_map(static fn (?string $cell): string => Csv::plain((string) $cell), $row);
            }
        }

        return $rows;
    }
}
