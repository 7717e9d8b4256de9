package pricelist

import (
	"slices"
	"sort"
	"strings"
	"waryowl/internal/core/money"
)

// codes are the currencies in use (ISO 4217, list one, from memory), without metals, funds and testing codes.
var codes = strings.Fields(`AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BGN BHD BIF BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF
CLP CNY COP CRC CUP CVE CZK DJF DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GNF GTQ GYD HKD HNL HTG HUF IDR ILS INR IQD IRR
ISK JMD JOD JPY KES KGS KHR KMF KPW KRW KWD KYD KZT LAK LBP LKR LRD LSL LYD MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD
NGN NIO NOK NPR NZD OMR PAB PEN PGK PHP PKR PLN PYG QAR RON RSD RUB RWF SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB
TJS TMT TND TOP TRY TTD TWD TZS UAH UGX USD UYU UZS VED VES VND VUV WST XAF XCD XOF XPF YER ZAR ZMW ZWG ANG XCG`)

// signs are the currencies that a sign may mean.
var signs = map[string][]string{"€": {"EUR"}, "£": {"GBP"}, "zł": {"PLN"}, "kč": {"CZK"}, "ft": {"HUF"},
	"lei": {"RON"}, "fr.": {"CHF"},
	"sfr.": {"CHF"}, "₹": {"INR"}, "₩": {"KRW"}, "r$": {"BRL"}, "us$": {"USD"}, "ca$": {"CAD"}, "c$": {"CAD"},
	"a$":  {"AUD"},
	"au$": {"AUD"}, "nz$": {"NZD"}, "hk$": {"HKD"}, "s$": {"SGD"}, "$": {"USD", "CAD", "AUD", "NZD", "HKD", "SGD"},
	"¥": {"JPY", "CNY"}, "kr": {"SEK", "NOK", "DKK", "ISK"}, "kr.": {"SEK", "NOK", "DKK", "ISK"}}

// signOrder are the signs, the longest first, so that "CA$" is not read as "$".
var signOrder = func() []string {
	var list []string
	for s := range signs {
		list = append(list, s)
	}
	sort.Slice(list, func(i, j int) bool {
		if len(list[i]) != len(list[j]) {
			return len(list[i]) > len(list[j])
		}
		return list[i] < list[j]
	})
	return list
}()

// code is a currency code in any case.
func code(s string) (string, bool) {
	u := strings.ToUpper(strings.TrimSpace(s))
	return u, len(s) <= 5 && slices.Contains(codes, u)
}

// priced is a figure with what it says of its currency: the currencies that it may be, and the sign of several.
type priced struct {
	figure string
	may    []string // nil: nothing is said
	sign   string
	clash  bool // two currencies that contradict each other
}

// unprice takes signs and codes before and behind a figure away.
func unprice(s string) priced {
	p := priced{figure: strings.TrimSpace(s)}
	for {
		rest, may, sign, found := strip(p.figure)
		if !found {
			return p
		}
		p.figure = rest
		if p.may == nil {
			p.may, p.sign = may, sign
			continue
		}
		var both []string
		for _, c := range p.may {
			if slices.Contains(may, c) {
				both = append(both, c)
			}
		}
		if len(both) == 0 {
			p.clash = true
			continue
		}
		if p.may = both; len(both) > 1 && sign != "" {
			p.sign = sign
		}
	}
}

func strip(s string) (rest string, may []string, sign string, found bool) {
	trim := func(t string) string { return strings.Trim(t, " \u00a0\u202f\u2009\t") }
	low := strings.ToLower(s)
	if len(low) == len(s) {
		for _, g := range signOrder {
			several := ""
			if len(signs[g]) > 1 {
				several = strings.TrimSuffix(g, ".")
			}
			if strings.HasPrefix(low, g) && !letterAt(low, len(g), g) {
				return trim(s[len(g):]), signs[g], several, true
			}
			if strings.HasSuffix(low, g) && !letterBefore(low, len(low)-len(g), g) {
				return trim(s[:len(s)-len(g)]), signs[g], several, true
			}
		}
	}
	if len(s) > 3 {
		if c, ok := code(s[:3]); ok && !letterAt(low, 3, "x") {
			return trim(s[3:]), []string{c}, "", true
		}
		if c, ok := code(s[len(s)-3:]); ok && !letterBefore(low, len(s)-3, "x") {
			return trim(s[:len(s)-3]), []string{c}, "", true
		}
	}
	return s, nil, "", false
}

// letterAt says whether a letter follows a sign that ends with a letter: then it is part of a word.
func letterAt(s string, k int, sign string) bool {
	last := sign[len(sign)-1]
	return k < len(s) && last >= 'a' && last <= 'z' && s[k] >= 'a' && s[k] <= 'z'
}

func letterBefore(s string, k int, sign string) bool {
	first := sign[0]
	return k > 0 && first >= 'a' && first <= 'z' && s[k-1] >= 'a' && s[k-1] <= 'z'
}

// named is the currency of a currency column: a code, or a sign of one currency.
func named(s string) (string, bool) {
	if c, ok := code(s); ok {
		return c, true
	}
	if m := signs[strings.ToLower(strings.TrimSpace(s))]; len(m) == 1 {
		return m[0], true
	}
	return "", false
}

// minor is an amount in minor units of a currency; finer than that is none.
func minor(r reading, currency string) (int64, bool) {
	d := money.Digits(currency)
	part := strings.TrimRight(r.part, "0")
	if len(part) > d {
		return 0, false
	}
	all := trimWhole(r.whole) + part + strings.Repeat("0", d-len(part))
	if len(all) > 15 {
		return 0, false
	}
	var v int64
	for _, c := range all {
		v = 10*v + int64(c-'0')
	}
	return v, true
}
