<?php

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->inspect = fn (array $body) => $this->as($this->person, 'POST', "/api/sites/{$this->site->key}/inspections", $body);
});

it('inspects pasted HTML for the site\'s own snippet', function () {
    ($this->inspect)(['html' => "<head>{$this->site->snippet()}"])->assertOk()->assertExactJson(['verdict' => 'sound', 'findings' => []]);
    $html = "\n\n<p>Ünder way {$this->site->snippet()}";
    ($this->inspect)(['html' => $html])->assertOk()->assertJsonPath('verdict', 'doubt')
        ->assertJsonPath('findings.0.code', 'snippet.in-body')->assertJsonPath('findings.0.line', 3)->assertJsonPath('findings.0.column', 14);
    ($this->inspect)(['html' => '<p>Nothing', 'guard' => true])->assertOk()->assertJsonPath('findings.0.code', 'snippet.missing');
    ($this->inspect)(['html' => "<head>{$this->site->snippet()}", 'policy' => "default-src 'self'"])->assertOk()->assertJsonPath('findings.0.code', 'snippet.csp-blocked');
});

it('complains at the field', function (array $body, string $field) {
    ($this->inspect)($body)->assertStatus(422)->assertJsonValidationErrors($field);
})->with([
    [[], 'html'], [['html' => ''], 'html'], [['html' => ['x']], 'html'], [['html' => 7], 'html'], [['html' => str_repeat('x', 5_000_001)], 'html'],
    [['html' => '<p>', 'guard' => 'perhaps'], 'guard'], [['html' => '<p>', 'policy' => str_repeat('x', 8001)], 'policy'],
]);
