/**
 * Names that the numbers of many countries are given alike: a value beside one of them is a number of that subject, and
 * of which country only its digits and the text around it tell. Common practice, no source.
 */
import type { Language } from './languages.js';

/** What such a name is about. */
export type GeneralSubject = 'identity' | 'tax' | 'account' | 'passport' | 'licence' | 'health';

type Names = Readonly<Partial<Record<Language, readonly string[]>>>;

export const GENERAL_NAMES: Readonly<Record<GeneralSubject, Names>> = {
  identity: {
    en: ['id number', 'id no', 'identity number', 'identity no', 'identification number', 'national id', 'national id number', 'national identity number', 'national identification number', 'personal number', 'personal id', 'personal id number', 'personal identification number', 'identity card', 'identity card number', 'id card', 'id card number', 'citizen id', 'citizen number', 'civil id', 'resident number', 'national number', 'social security number'],
    de: ['ausweisnummer', 'personalausweisnummer', 'identitätsnummer', 'id-nummer', 'personenkennzahl', 'personennummer'],
    fr: ["numéro d'identité", "numéro d'identification", "carte d'identité", "n° d'identité", 'numéro national'],
    es: ['número de identidad', 'número de identificación', 'documento de identidad', 'cédula de identidad', 'cédula', 'nro de documento', 'número de documento'],
    it: ['numero di identità', "carta d'identità", 'numero di identificazione', "documento d'identità"],
    pt: ['número de identidade', 'número de identificação', 'documento de identidade', 'bilhete de identidade', 'cartão de identidade'],
    nl: ['identiteitsnummer', 'identificatienummer', 'persoonsnummer', 'identiteitskaart'],
    sv: ['identitetsnummer', 'id-nummer'],
    no: ['identitetsnummer', 'id-nummer'],
    da: ['identitetsnummer', 'id-nummer'],
    pl: ['numer identyfikacyjny', 'numer dowodu', 'nr dowodu'],
    cs: ['identifikační číslo', 'číslo průkazu'],
    hu: ['azonosító szám', 'személyi szám'],
    ro: ['număr de identificare'],
    el: ['αριθμός ταυτότητας'],
    bg: ['личен номер'],
    hr: ['identifikacijski broj', 'osobni broj'],
    sr: ['лични број'],
  },
  tax: {
    en: ['tax id', 'tax number', 'tax no', 'tax id number', 'tax identification number', 'tax identifier', 'tax reference', 'taxpayer id', 'taxpayer number', 'taxpayer identification number', '=TIN', 'tax registration number', 'fiscal number', 'fiscal code', 'vat number', 'vat no', 'vat id', 'vat registration number', 'company number', 'company registration number', 'business number', 'organisation number', 'organization number'],
    de: ['steuernummer', 'steuer-id', 'steueridentifikationsnummer', 'ust-idnr', 'umsatzsteuer-id', 'handelsregisternummer'],
    fr: ['numéro fiscal', 'numéro de tva', 'identifiant fiscal', "numéro d'entreprise"],
    es: ['número fiscal', 'identificación fiscal', 'número de identificación fiscal', 'registro fiscal', 'número de contribuyente'],
    it: ['codice fiscale', 'numero fiscale', 'partita iva'],
    pt: ['número fiscal', 'número de contribuinte', 'identificação fiscal'],
    nl: ['belastingnummer', 'btw-nummer', 'fiscaal nummer'],
    pl: ['numer podatkowy', 'numer identyfikacji podatkowej'],
    cs: ['daňové číslo'],
    hu: ['adószám'],
    sv: ['skattenummer', 'momsnummer'],
    da: ['momsnummer'],
    fi: ['verotunniste'],
    ro: ['cod fiscal'],
  },
  account: {
    en: ['account number', 'account no', 'account num', 'acct number', 'acct no', 'acct', 'a/c no', 'a/c number', 'bank account', 'bank account number', 'bank account no', 'current account', 'beneficiary account'],
    de: ['kontonummer', 'konto-nr', 'bankkonto', 'bankverbindung', 'konto nr'],
    fr: ['numéro de compte', 'compte bancaire', 'n° de compte'],
    es: ['número de cuenta', 'cuenta bancaria', 'nro de cuenta'],
    it: ['numero di conto', 'conto bancario', 'conto corrente'],
    pt: ['número da conta', 'número de conta', 'conta bancária'],
    nl: ['rekeningnummer', 'bankrekening'],
    sv: ['kontonummer', 'bankkonto'],
    no: ['kontonummer', 'bankkonto'],
    da: ['kontonummer', 'bankkonto'],
    fi: ['tilinumero', 'pankkitili'],
    pl: ['numer konta', 'numer rachunku', 'nr konta', 'rachunek bankowy'],
    cs: ['číslo účtu', 'bankovní účet'],
    sk: ['číslo účtu'],
    hu: ['számlaszám', 'bankszámla'],
    ro: ['cont bancar', 'număr de cont'],
    hr: ['broj računa'],
  },
  passport: { en: ['passport number', 'passport no', 'passport', 'travel document', 'travel document number'], de: ['passnummer', 'reisepassnummer', 'pass-nr'], fr: ['numéro de passeport', 'n° de passeport'], es: ['número de pasaporte', 'nro de pasaporte'], it: ['numero di passaporto', 'numero passaporto'], pt: ['número do passaporte', 'número de passaporte'], nl: ['paspoortnummer'], sv: ['passnummer'], no: ['passnummer'], da: ['pasnummer'], fi: ['passin numero'], pl: ['numer paszportu'], cs: ['číslo pasu'], hu: ['útlevélszám'] },
  licence: {
    en: ['driving licence', 'driving license', 'driver licence', 'driver license', "driver's license", "driver's licence", 'drivers license', 'driving licence number', 'driver license number', 'licence number', 'license number', 'license no', 'licence no', 'driving permit'],
    de: ['führerschein', 'führerscheinnummer'],
    fr: ['permis de conduire', 'numéro de permis'],
    es: ['licencia de conducir', 'permiso de conducir', 'carnet de conducir'],
    it: ['patente di guida', 'numero patente'],
    pt: ['carta de condução', 'carteira de motorista'],
    nl: ['rijbewijs', 'rijbewijsnummer'],
    sv: ['körkort'],
    no: ['førerkort'],
    da: ['kørekort'],
    fi: ['ajokortti'],
    pl: ['prawo jazdy'],
  },
  health: {
    en: ['health number', 'health id', 'health card', 'health card number', 'health insurance number', 'insurance number', 'insurance id', 'patient number', 'patient id', 'medical record number', 'medical number', 'member id', 'member number', 'insured number'],
    de: ['versichertennummer', 'versicherungsnummer', 'krankenversichertennummer', 'patientennummer'],
    fr: ["numéro d'assuré", "numéro d'assurance", 'numéro de patient'],
    es: ['número de afiliación', 'número de asegurado', 'número de paciente'],
    it: ['numero tessera sanitaria', 'numero paziente'],
    pt: ['número de utente', 'número de beneficiário'],
    nl: ['verzekeringsnummer', 'patiëntnummer', 'polisnummer'],
  },
};

/** General names in some languages, and in English, in which such labels stand everywhere. */
export function generalNames(subject: GeneralSubject, languages: readonly Language[]): string[] {
  return [...new Set([...languages, 'en' as Language].flatMap((language) => GENERAL_NAMES[subject][language] ?? []))];
}
