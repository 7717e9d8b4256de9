// Package app holds no code of its own: the use cases stand in the packages below it, a floor each.
//
//	act      one change, carried out once: Do, Actor, Command, rights
//	model    what is on record about a model
//	study    what is on record about a study
//	<room>   one package a room: its view, its reads, its writes
//
// A room imports what lies below it and never another room; handover, which composes, is the exception. The tests here
// walk through several rooms at once.
package app
