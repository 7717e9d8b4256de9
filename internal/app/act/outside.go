package act

import (
	"context"
	"encoding/json"
	"errors"

	"waryowl/internal/store"
)

// Outside asks a service outside the house once for a command. The question is on record before it is sent, the answer
// as soon as it came, each in a transaction of its own: a repeat of the command takes the answer that is on record, and
// asks again, under the same key, only when none came. The error late says that the service may have decided all the
// same; after every other error the question never arrived and is taken off the record.
func Outside[A any](ctx context.Context, s *Service, c Command, service, subject string, question any, late error,
	ask func(context.Context) (A, error)) (A, error) {
	var answer A
	text, err := json.Marshal(question)
	if err != nil {
		return answer, err
	}
	db := s.DB.WithContext(ctx)
	call, err := store.BeginCall(db, store.OutsideCall{ID: c.Key, AccountID: c.Actor.ID, BodyHash: c.Hash,
		Service: service, SubjectID: subject, Question: string(text), AskedAt: s.Now().UTC()})
	switch {
	case err != nil:
		return answer, err
	case call.BodyHash != c.Hash || call.AccountID != c.Actor.ID:
		return answer, ErrKeyReused
	case call.Answer != nil:
		return answer, json.Unmarshal([]byte(*call.Answer), &answer)
	}
	// who asked may have gone meanwhile; what came of it is kept all the same
	keep := s.DB.WithContext(context.WithoutCancel(ctx))
	if answer, err = ask(ctx); errors.Is(err, late) {
		return answer, err
	} else if err != nil {
		dropped := store.DropCall(keep, c.Key)
		return answer, errors.Join(err, dropped)
	}
	if text, err = json.Marshal(answer); err != nil {
		return answer, err
	}
	return answer, store.SettleCall(keep, c.Key, string(text), s.Now().UTC())
}
