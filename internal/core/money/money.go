// Package money is an amount: whole minor units of a currency, with as many digits as its currency has.
//
//	money.Amount{Minor: 137810, Currency: "EUR"}.String() // "1378.10 EUR"
//
// Codes and digits are those of ISO 4217 (from memory).
package money

import (
	"math"
	"strconv"
	"strings"
)

// Amount is so many minor units of a currency.
type Amount struct {
	Minor    int64  `json:"minor"`
	Currency string `json:"currency"`
}

// odd are the digits of minor units that are not two.
var odd = map[string]int{"BIF": 0, "CLP": 0, "DJF": 0, "GNF": 0, "ISK": 0, "JPY": 0, "KMF": 0, "KRW": 0, "PYG": 0,
	"RWF": 0, "UGX": 0, "VND": 0, "VUV": 0, "XAF": 0, "XOF": 0, "XPF": 0, "BHD": 3, "IQD": 3, "JOD": 3, "KWD": 3, "LYD": 3,
	"OMR": 3, "TND": 3}

// Digits is how many digits the minor unit of a currency has.
func Digits(code string) int {
	if d, known := odd[code]; known {
		return d
	}
	return 2
}

// Of is an amount as somebody types it, rounded half up to the digits of its currency.
func Of(typed float64, currency string) Amount {
	return Amount{int64(math.Floor(typed*math.Pow10(Digits(currency)) + 0.5)), currency}
}

// Figure is the amount in major units, without its currency.
func (a Amount) Figure() string {
	d := Digits(a.Currency)
	return strconv.FormatFloat(float64(a.Minor)/math.Pow10(d), 'f', d, 64)
}

// String is the amount with its currency.
func (a Amount) String() string { return strings.TrimSpace(a.Figure() + " " + a.Currency) }

// At is the amount in another currency, of which one unit of this one is worth rate: rounded half up to its minor units.
func (a Amount) At(rate float64, currency string) Amount {
	major := float64(a.Minor) / math.Pow10(Digits(a.Currency))
	return Of(major*rate, currency)
}
