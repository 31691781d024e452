package plenzo.core.component;

import java.util.Locale;
import plenzo.core.words.Codes;

/** What sort of component it is, in the order in which kinds are compared and written. */
public enum Kind {
  /** The structure of a table. */
  TABLE(Holder.DATABASE),
  /** The rows of a table that are reference data. */
  RECORDS(Holder.DATABASE),
  /** A published file, or a link inside its tree. */
  FILE(Holder.DIRECTORY),
  /** How an application host speaks to another system. */
  INTEGRATION(Holder.HOST),
  /** What an application host does by itself. */
  RULE(Holder.HOST),
  /** What people fill in at an application host. */
  FORM(Holder.HOST);

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
  private final String code = name().toLowerCase(Locale.ROOT);

  Kind(Holder holder) {
    this.holder = holder;
  }

  public Holder holder() {
    return holder;
  }

  /** True when its content is one piece, exchanged as a whole: a file or a definition. */
  public boolean whole() {
    return holder != Holder.DATABASE;
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
