<?php

declare(strict_types=1);

namespace Tests\Support;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Assert;
use Symfony\Component\Yaml\Yaml;

/** Holds real answers against docs/openapi.yaml. Schemas of OpenAPI 3.1 are JSON Schema 2020-12. */
final class OpenApi
{
    private const ID = 'https://pellix.test/openapi.json';

    private const WORDS = 'https://pellix.test/vocabulary.json';

    private static ?object $document = null;

    private static ?Validator $validator = null;

    public static function check(string $method, string $path, int $status, string $body): void
    {
        $document = self::document();
        [$template, $operation] = self::operation(strtok($path, '?'), strtolower($method));
        $responses = $document->paths->{$template}->{$operation}->responses;
        // What the framework answers on every route alike is described once.
        $response = $responses->{$status} ?? (in_array($status, [401, 403, 404, 405, 409, 419, 429], true) ? (object) ['$ref' => '#/components/responses/Problem'] : ($status === 423 ? (object) ['$ref' => '#/components/responses/Confirm'] : null));
        Assert::assertNotNull($response, "docs/openapi.yaml knows no answer {$status} of {$method} {$template}");
        $pointer = isset($response->{'$ref'}) ? substr($response->{'$ref'}, 1) : '/paths/'.self::escape($template)."/{$operation}/responses/{$status}";
        $described = self::at($pointer);
        if (! isset($described->content)) {
            Assert::assertSame('', $body, "{$method} {$path} should have no body");

            return;
        }
        $result = self::validator()->validate(json_decode($body), self::ID.'#'.strtr($pointer, ['{' => '%7B', '}' => '%7D']).'/content/application~1json/schema');
        Assert::assertTrue($result->isValid(), $result->isValid() ? '' : "{$method} {$path} {$status}: ".json_encode((new ErrorFormatter())->format($result->error()))."\n{$body}");
    }

    private static function document(): object
    {
        return self::$document ??= json_decode((string) json_encode(
            ['$id' => self::ID, '$schema' => 'https://json-schema.org/draft/2020-12/schema'] + (array) Yaml::parseFile(dirname(__DIR__, 2).'/docs/openapi.yaml', Yaml::PARSE_OBJECT_FOR_MAP),
        ));
    }

    private static function validator(): Validator
    {
        if (self::$validator === null) {
            self::$validator = new Validator();
            self::$validator->resolver()->registerRaw(self::document(), self::ID);
            $words = json_decode((string) file_get_contents(dirname(__DIR__, 2).'/docs/vocabulary.json'));
            self::$validator->resolver()->registerRaw((object) ['$id' => self::WORDS, ...(array) $words], self::WORDS);
        }

        return self::$validator;
    }

    /** @return array{string, string} the path's template and the operation */
    private static function operation(string $path, string $method): array
    {
        foreach (self::document()->paths as $template => $item) {
            $pattern = '~\A'.preg_replace('~\\\\\{\w+\\\\\}~', '[^/]+', preg_quote($template, '~')).'\z~';
            if (isset($item->{$method}) && preg_match($pattern, $path) === 1) {
                return [$template, $method];
            }
        }
        Assert::fail("docs/openapi.yaml does not describe {$method} {$path}");
    }

    private static function at(string $pointer): object
    {
        $here = self::document();
        foreach (explode('/', ltrim($pointer, '/')) as $part) {
            $here = $here->{str_replace(['~1', '~0'], ['/', '~'], $part)};
        }

        return $here;
    }

    private static function escape(string $part): string
    {
        return str_replace(['~', '/'], ['~0', '~1'], $part);
    }
}
