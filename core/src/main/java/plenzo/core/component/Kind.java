package plenzo.core.component;

import java.util.Locale;
import plenzo.core.words.Codes;

/** What sort of component it is, in the order in which kinds are compared and written. */
public enum Kind {
  /** What values may be: an enumeration, a domain, a composite or a range type. */
  TYPE(Holder.DATABASE, true),
  /** A sequence that no column owns. */
  SEQUENCE(Holder.DATABASE, true),
  /** The structure of a table. */
  TABLE(Holder.DATABASE, false),
  /** The rows of a table that are reference data. */
  RECORDS(Holder.DATABASE, false),
  /** A function, procedure or aggregate inside a database. */
  ROUTINE(Holder.DATABASE, true),
  /** A view, materialized or not. */
  VIEW(Holder.DATABASE, true),
  /** What a database does by itself when rows of a table are written. */
  TRIGGER(Holder.DATABASE, true),
  /** Which rows of a table an account sees and writes. */
  POLICY(Holder.DATABASE, true),
  /**
   * What a role may do with a table, view, sequence, routine or type; carried only where asked for.
   */
  GRANT(Holder.DATABASE, true),
  /** A published file, or a link inside its tree. */
  FILE(Holder.DIRECTORY, true),
  /** How an application host speaks to another system. */
  INTEGRATION(Holder.HOST, true),
  /** What an application host does by itself. */
  RULE(Holder.HOST, true),
  /** What people fill in at an application host. */
  FORM(Holder.HOST, true);

  /** Which sort of target holds a component. */
  public enum Holder {
    DATABASE,
    DIRECTORY,
    HOST;

    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  private final Holder holder;
  private final boolean whole;
  private final String code = name().toLowerCase(Locale.ROOT);

  Kind(Holder holder, boolean whole) {
    this.holder = holder;
    this.whole = whole;
  }

  public Holder holder() {
    return holder;
  }

  /** True when its content is one piece: a file, a definition, or what a schema has by name. */
  public boolean whole() {
    return whole;
  }

  /** True when it stands in a schema of a database and is neither a table nor rows. */
  public boolean schemaObject() {
    return whole && holder == Holder.DATABASE;
  }

  /** True when it stands at one table or view, or of a grant at whatever it is about. */
  public boolean worksOnOne() {
    return this == TRIGGER || this == POLICY || this == GRANT;
  }

  /** True when it is a JSON document in an application host. */
  public boolean definition() {
    return holder == Holder.HOST;
  }

  public String code() {
    return code;
  }

  /**
   * @throws IllegalArgumentException when there is no such kind; the message lists the known ones
   */
  public static Kind of(String code) {
    return Codes.find("a kind", values(), Kind::code, code);
  }
}
