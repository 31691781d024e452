package plenzo.core.inventory;

import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.table.Renaming;

/**
 * Something in the application's schemas that Plenzo does not carry: it is named wherever people
 * decide, never passed over.
 *
 * @param name with its schema, and with its arguments where it has some; empty where its table says
 *     it all
 * @param on the table that it works on, null where it works on none
 * @param digest of its definition as the server prints it; only equal or not
 */
public record Uncarried(Sort sort, String name, @Nullable TableName on, String digest)
    implements Comparable<Uncarried> {
  /** What it is. */
  public enum Sort {
    SEQUENCE("sequence", false),
    TRIGGER("trigger", true),
    RULE("rewrite rule", true),
    POLICY("row policy", true),
    ROUTINE("routine", false),
    VIEW("view", false),
    MATERIALIZED_VIEW("materialized view", false),
    FOREIGN_TABLE("foreign table", false),
    TYPE("type", false),
    /** One that a broken build left: the server keeps it up and never reads it. */
    INVALID_INDEX("invalid index", false),
    /** How a table or its columns are stored, as far as it is no setting of its structure. */
    STORAGE("storage settings", false),
    PUBLICATION("publication", false),
    /** On an index of a materialized view or a constraint of a domain; others are carried. */
    COMMENT("comment on", false),
    /** Its members are not named one by one: they come and go with it. */
    EXTENSION("extension", false),
    /** Whatever else the server has in the schema; its name says what it is. */
    OTHER("", false);

    private final String word;
    private final boolean changesMeaning;

    Sort(String word, boolean changesMeaning) {
      this.word = word;
      this.changesMeaning = changesMeaning;
    }

    public String word() {
      return word;
    }

    /** Whether it changes what writing or reading rows of its table means. */
    public boolean changesMeaning() {
      return changesMeaning;
    }
  }

  /** "sequence fares.ticket_number", "trigger audit of fares.fare_band". */
  public String shown() {
    return (sort.word() + " " + name).strip() + (on == null ? "" : " of " + on);
  }

  /** The same with the name of afterwards of the table that it works on. */
  public Uncarried renamed(Renaming names) {
    return on == null ? this : new Uncarried(sort, name, names.named(on), digest);
  }

  /** Its name without schema and arguments. */
  public String bare() {
    int open = name.indexOf('(');
    String whole = open < 0 ? name : name.substring(0, open);
    return whole.substring(whole.indexOf('.') + 1);
  }

  @Override
  public int compareTo(Uncarried other) {
    return shown().compareTo(other.shown());
  }
}
