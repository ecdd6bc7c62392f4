@extends('mail.frame')
@section('words')
<h1>Mails arrive</h1>
<p>Somebody asked Pellix for this test. A new trouble of a running experiment of {{ $site->name }} would be told the same way.</p>
@endsection
