@extends('mail.frame')
@section('words')
<h1>{{ $title }}</h1>
@foreach ($lines as $line)
<p>{{ $line }}</p>
@endforeach
@if ($link !== null)
<p><a href="{{ $link }}">{{ $link }}</a></p>
@endif
@endsection
