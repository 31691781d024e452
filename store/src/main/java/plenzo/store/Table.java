package plenzo.store;

import java.util.Locale;

/** The tables of records, which all have one shape. */
enum Table {
  PERSON(Of.PEOPLE),
  ACCESS_KEY(Of.KEYS),
  ROLE(Of.NOBODY),
  STAGE(Of.SET_UP),
  CONNECTION(Of.PEOPLE),
  SECRET(Of.NOBODY),
  PATH(Of.SET_UP),
  APPLICATION(Of.SET_UP),
  VERSION(Of.APPLICATION),
  VERSION_ENTRIES(Of.NOBODY),
  DRAFT(Of.APPLICATION),
  SITE_RECORD(Of.APPLICATION),
  PROMOTION(Of.APPLICATION),
  RUN(Of.APPLICATION),
  CAPTURE(Of.NOBODY),
  BINDING(Of.APPLICATION),
  SIGNER(Of.NOBODY),
  PARCEL(Of.APPLICATION),
  SOURCE_RECORD(Of.APPLICATION),
  RELEASE(Of.NOBODY),
  WAVES(Of.APPLICATION),
  EVIDENCE(Of.APPLICATION),
  REHEARSAL(Of.APPLICATION),
  PROPOSAL(Of.PEOPLE),
  FREEZE(Of.SET_UP),
  SCHEDULE(Of.APPLICATION),
  REPEAT(Of.APPLICATION),
  ERRAND(Of.APPLICATION),
  WEBHOOK(Of.NOBODY),
  DELIVERY(Of.NOBODY),
  FOLLOWING(Of.NOBODY),
  CALL_ORDER(Of.NOBODY),
  /** Calls; their own word is one of SQL's. */
  SUMMONS(Of.NOBODY),
  KEEPING(Of.NOBODY),
  SOURCE_COPIES(Of.APPLICATION),
  ANSWERED(Of.NOBODY);

  /** Whose page changes when a record does. */
  enum Of {
    APPLICATION,
    /** Stages, paths, and what is said of applications. */
    SET_UP,
    /** People with their rights, and connections with their tests. */
    PEOPLE,
    /** Sessions and tokens. */
    KEYS,
    /** Nothing that is worked out is kept from these. */
    NOBODY
  }

  private final Of of;

  Table(Of of) {
    this.of = of;
  }

  Of of() {
    return of;
  }

  /** As SQL names it. */
  String code() {
    return name().toLowerCase(Locale.ROOT);
  }
}
