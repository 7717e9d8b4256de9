import { numbers } from './locale'

/** Digits of a currency: most have two, some none or three (ISO 4217, as the browser knows it). */
export function digitsOfCurrency(currency: string): number {
  try {
    return new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2
  } catch {
    return 2
  }
}

/** An amount of minor units in words. */
export function money(minor: number, currency: string): string {
  if (!currency) return String(minor)
  try {
    return numbers({ style: 'currency', currency }).format(minor / 10 ** digitsOfCurrency(currency))
  } catch {
    return `${minor} ${currency}`
  }
}

export const toMinor = (amount: number, currency: string) => Math.round(amount * 10 ** digitsOfCurrency(currency))
export const fromMinor = (minor: number, currency: string) => minor / 10 ** digitsOfCurrency(currency)
