const mail = /^[^\s@<>,;"]+@[^\s@<>,;"]+\.[^\s@<>,;"]{2,}$/;
const web = /^(https?:\/\/|www\.)\S+$/i;
const phone = /^\+?[\d\s()/.-]{5,24}$/;
const phoneWords = /(^|[^a-z])(tel|telephone|phone|mobile|cell|fax)([^a-z]|$)/i;

/** Where a telephone number leads to; null where it has too few digits for one. */
export function phoneLink(text: string): string | null {
  const number = text.replace(/[^\d+]/g, "");
  return number.length >= 5 ? `tel:${number}` : null;
}

/**
 * Where a value leads to: an address of mail or of the web, a telephone number.
 * @param label What the column is called; a number is only taken for a telephone's where it says so.
 * @returns The address; null where the value is none of these.
 */
export function linkOf(label: string, value: string): string | null {
  const text = value.trim();
  if (mail.test(text)) return `mailto:${text}`;
  if (web.test(text)) return text.toLowerCase().startsWith("www.") ? `https://${text}` : text;
  if (phoneWords.test(label) && phone.test(text)) return phoneLink(text);
  return null;
}
