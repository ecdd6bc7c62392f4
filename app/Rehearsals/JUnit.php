<?php

declare(strict_types=1);

namespace App\Rehearsals;

use DOMDocument;
use DOMElement;

/** The results of a rehearsal as JUnit XML: elements testsuites, testsuite, testcase, failure, as build servers read them (common practice; there is no standard). */
final class JUnit
{
    /**
     * @param list<array<string, mixed>> $parts as Report holds them
     */
    public static function of(string $name, array $parts): string
    {
        $document = new DOMDocument('1.0', 'UTF-8');
        $document->formatOutput = true;
        $root = $document->appendChild($document->createElement('testsuites'));
        assert($root instanceof DOMElement);
        $all = $failed = 0;
        foreach ($parts as $part) {
            $suite = $document->createElement('testsuite');
            $failures = array_values(array_filter($part['findings'], static fn (array $one): bool => $one['severity'] === 'blocker'));
            $cases = 0;
            foreach ($part['findings'] as $finding) {
                $case = self::testcase($document, $finding['words'], $part, $finding);
                $text = trim("{$finding['cause']} {$finding['next']}");
                if ($finding['severity'] === 'blocker') {
                    $failure = $document->createElement('failure');
                    $failure->setAttribute('type', $finding['code']);
                    $failure->setAttribute('message', self::plain($finding['words']));
                    $failure->appendChild($document->createTextNode(self::plain($text)));
                    $case->appendChild($failure);
                } else {
                    $out = $document->createElement('system-out');
                    $out->appendChild($document->createTextNode(self::plain("{$finding['severity']}: {$finding['words']} {$text}")));
                    $case->appendChild($out);
                }
                $suite->appendChild($case);
                $cases++;
            }
            foreach ($part['proofs'] as $proof) {
                $suite->appendChild(self::testcase($document, $proof['words'], $part, $proof));
                $cases++;
            }
            $suite->setAttribute('name', self::plain($part['words']));
            $suite->setAttribute('tests', (string) $cases);
            $suite->setAttribute('failures', (string) count($failures));
            $suite->setAttribute('errors', '0');
            $suite->setAttribute('skipped', '0');
            $suite->setAttribute('time', number_format((float) $part['seconds'], 3, '.', ''));
            $root->appendChild($suite);
            $all += $cases;
            $failed += count($failures);
        }
        $root->setAttribute('name', self::plain($name));
        $root->setAttribute('tests', (string) $all);
        $root->setAttribute('failures', (string) $failed);
        $root->setAttribute('time', number_format(array_sum(array_map(floatval(...), array_column($parts, 'seconds'))), 3, '.', ''));

        return (string) $document->saveXML();
    }

    /**
     * @param array<string, mixed> $part
     * @param array<string, mixed> $of   finding or proof
     */
    private static function testcase(DOMDocument $document, string $name, array $part, array $of): DOMElement
    {
        $case = $document->createElement('testcase');
        $case->setAttribute('classname', implode('.', array_filter(['rehearsal', $part['kind'], $of['variant'], $of['screen']])));
        $case->setAttribute('name', self::plain($name));

        return $case;
    }

    /** Without the characters that no XML may hold (XML 1.0, 2.2). */
    private static function plain(string $text): string
    {
        return (string) preg_replace('/[^\x{9}\x{A}\x{D}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u', '', mb_scrub($text, 'UTF-8'));
    }
}
