package store

import "time"

// TokenFacts are what a token may do, and until when.
type TokenFacts struct {
	Name      string    `json:"name" minLength:"1" maxLength:"80" doc:"of the program that uses it, as the trail tells it"`
	ReadsOnly bool      `json:"reads_only,omitempty"`
	Rooms     []string  `json:"rooms,omitempty" nullable:"false" maxItems:"30" gorm:"serializer:json" doc:"kinds of thing that it may read and write; none: all that its person may"`
	ExpiresAt time.Time `json:"expires_at" ahead:"yes"`
}

// Token lets another program act for a person. Only the sum of what it shows is kept.
type Token struct {
	Row
	AccountID string `json:"account_id"`
	TokenFacts
	Hash         string     `json:"-"`
	RevokedAt    *time.Time `json:"revoked_at,omitempty"`
	LastUsedAt   *time.Time `json:"last_used_at,omitempty"`
	LastUsedFrom string     `json:"last_used_from,omitempty"`
}
