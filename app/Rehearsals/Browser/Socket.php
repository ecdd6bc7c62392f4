<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/**
 * A WebSocket to a browser on this machine: text messages in both directions, client side, without extensions. Source: RFC 6455.
 */
final class Socket
{
    /** No message of a browser is longer: a screenshot of a large screen has a few MB. */
    private const MOST_BYTES = 64_000_000;

    /** A message may be taken apart into pieces of this size, and longer ones are written in several goes. */
    private const PIECE = 65_536;

    private const TEXT = 0x1;
    private const CLOSE = 0x8;
    private const PING = 0x9;
    private const PONG = 0xA;

    private string $read = '';

    private string $message = '';

    /** @param resource $stream */
    private function __construct(private $stream)
    {
    }

    /** @throws BrowserGone */
    public static function open(string $address, float $seconds = 5.0): self
    {
        ['host' => $host, 'port' => $port, 'path' => $path] = (array) parse_url($address) + ['host' => '', 'port' => 80, 'path' => '/'];
        $stream = @stream_socket_client('tcp://127.0.0.1:'.$port, $code, $why, $seconds);
        if ($stream === false) {
            throw new BrowserGone("The browser does not answer: {$why}.");
        }
        $key = base64_encode(random_bytes(16));
        fwrite($stream, "GET {$path} HTTP/1.1\r\nHost: {$host}:{$port}\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Key: {$key}\r\nSec-WebSocket-Version: 13\r\n\r\n");
        stream_set_timeout($stream, (int) ceil($seconds));
        $head = '';
        while (! str_ends_with($head, "\r\n\r\n") && strlen($head) < 8192 && ($byte = fgetc($stream)) !== false) {
            $head .= $byte;
        }
        $expected = base64_encode(sha1($key.'258EAFA5-E914-47DA-95CA-C5AB0DC85B11', true));
        if (preg_match('~\AHTTP/1\.1 101 ~', $head) !== 1 || ! str_contains($head, $expected)) {
            throw new BrowserGone('The browser does not speak the DevTools protocol there.');
        }
        stream_set_blocking($stream, false);

        return new self($stream);
    }

    /** @throws BrowserGone */
    public function send(string $text, float $seconds = 10.0): void
    {
        $length = strlen($text);
        $mask = random_bytes(4);
        // What a client sends is masked (5.3).
        $bytes = chr(0x80 | self::TEXT).match (true) {
            $length < 126 => chr(0x80 | $length),
            $length < 65536 => chr(0x80 | 126).pack('n', $length),
            default => chr(0x80 | 127).pack('J', $length),
        }.$mask.($text ^ str_repeat($mask, intdiv($length, 4) + 1));
        $this->write($bytes, $seconds);
    }

    /**
     * The next message; null where none has come within that time.
     *
     * @throws BrowserGone
     */
    public function receive(float $seconds): ?string
    {
        $until = microtime(true) + $seconds;
        while (($message = $this->whole()) === null) {
            $left = $until - microtime(true);
            $some = [$this->stream];
            $none = null;
            // A signal ends the wait early, which is as if nothing had come.
            if ($left <= 0 || (int) @stream_select($some, $none, $none, (int) $left, (int) (1e6 * fmod($left, 1))) === 0) {
                return null;
            }
            $bytes = fread($this->stream, self::PIECE);
            if ($bytes === false || ($bytes === '' && feof($this->stream))) {
                throw new BrowserGone('The browser has gone.');
            }
            $this->read .= $bytes;
        }

        return $message;
    }

    public function close(): void
    {
        @fclose($this->stream);
    }

    /** Takes frames from what was read, until one ends a message. */
    private function whole(): ?string
    {
        while (($frame = $this->frame()) !== null) {
            [$final, $kind, $payload] = $frame;
            if ($kind === self::PING) {
                $mask = random_bytes(4);
                $this->write(chr(0x80 | self::PONG).chr(0x80 | strlen($payload)).$mask.($payload ^ str_repeat($mask, intdiv(strlen($payload), 4) + 1)), 5.0);
            } elseif ($kind === self::CLOSE) {
                throw new BrowserGone('The browser has closed the connection.');
            } elseif ($kind < self::CLOSE) {
                $this->message .= $payload;
                if (strlen($this->message) > self::MOST_BYTES) {
                    throw new BrowserGone('The browser sent a message that is too long.');
                }
                if ($final) {
                    $message = $this->message;
                    $this->message = '';

                    return $message;
                }
            }
        }

        return null;
    }

    /** @return array{bool, int, string}|null whether it is the last of its message, what it is, what it holds */
    private function frame(): ?array
    {
        if (strlen($this->read) < 2) {
            return null;
        }
        $first = ord($this->read[0]);
        $length = ord($this->read[1]) & 0x7F;
        $head = match ($length) {
            126 => 4,
            127 => 10,
            default => 2,
        };
        if (strlen($this->read) < $head) {
            return null;
        }
        $length = match ($length) {
            126 => unpack('n', $this->read, 2)[1] ?? 0,
            127 => unpack('J', $this->read, 2)[1] ?? 0,
            default => $length,
        };
        if ($length > self::MOST_BYTES) {
            throw new BrowserGone('The browser sent a message that is too long.');
        }
        if (strlen($this->read) < $head + $length) {
            return null;
        }
        $payload = substr($this->read, $head, $length);
        $this->read = substr($this->read, $head + $length);

        return [($first & 0x80) !== 0, $first & 0x0F, $payload];
    }

    private function write(string $bytes, float $seconds): void
    {
        $until = microtime(true) + $seconds;
        while ($bytes !== '') {
            $none = null;
            $some = [$this->stream];
            $written = @stream_select($none, $some, $none, 0, 100_000) > 0 ? @fwrite($this->stream, substr($bytes, 0, self::PIECE)) : 0;
            if ($written === false || microtime(true) > $until) {
                throw new BrowserGone('The browser takes nothing any more.');
            }
            $bytes = substr($bytes, $written);
        }
    }
}
