<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Rules\AddressFacts;

/** Whether what was typed into forms went where it was meant to go, and nowhere else. */
final class DataJudge
{
    /** So much is looked at in depth; of what comes after, percent encoding and the like alone is undone. */
    private const MOST_BYTES = 3_000_000;

    /**
     * @param list<array{method: string, url: string, body: string|null}> $requests of all pages of a walk
     * @param list<string> $typed  what was typed
     * @param string       $mark   letters that stand in all that was made up
     * @param string       $pellix where Pellix is served from
     * @param list<string> $hosts  of the site
     *
     * @return list<Finding>
     */
    public static function personal(array $requests, array $typed, string $mark, string $pellix, array $hosts, string $variant): array
    {
        $own = [...$hosts, AddressFacts::of($pellix)->host];
        $all = [];
        $bytes = 0;
        foreach ($typed === [] ? [] : $requests as $request) {
            $host = AddressFacts::of($request['url'])->host;
            $isCollector = str_starts_with($request['url'], "{$pellix}/");
            $bytes += strlen($request['url']) + strlen($request['body'] ?? '');
            $depth = $bytes > self::MOST_BYTES ? 1 : Leak::DEPTH;
            $inAddress = Leak::in($request['url'], $typed, $mark, $depth);
            $found = $inAddress ?? ($request['body'] === null ? null : Leak::in($request['body'], $typed, $mark, $depth));
            if ($found === null) {
                continue;
            }
            [$value, $form] = $found;
            $where = $inAddress === null ? 'in what is sent' : 'in the address';
            $asked = "{$request['method']} ".mb_substr($request['url'], 0, 200);
            $evidence = ['step' => $host, 'value' => $value, 'form' => $form, 'url' => mb_substr($request['url'], 0, 300)];
            if ($isCollector || ! in_array($host, $own, true)) {
                $all[] = new Finding(CheckCode::DataPersonal, "What was typed into a form left the page: “{$value}” ".($isCollector ? 'goes to Pellix with the events' : "goes to {$host}").'.', "It stands {$where} of a request {$asked}, {$form}.", 'Keep it out of addresses and events: send the form with POST, and no field’s content as a property.', $variant, null, null, $evidence);
            } elseif ($inAddress !== null) {
                $all[] = new Finding(CheckCode::DataAddress, "What was typed into a form stands in an address of the site: “{$value}”.", "{$asked}: whatever the page loads next can read it there, and logs keep it.", 'Send the form with POST.', $variant, null, null, $evidence);
            }
        }

        return $all;
    }
}
