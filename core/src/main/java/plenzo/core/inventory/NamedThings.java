package plenzo.core.inventory;

import java.util.Map;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.TableStructure;

/**
 * What the parts of a table name that is not the server's own: routines, types, operators, operator
 * classes, collations. Expressions are printed where nothing but {@code pg_catalog} is searched, so
 * that everything else stands there with its schema; texts in quotes are not looked into ({@link
 * NeededSequences} does that).
 *
 * @param byPart by path of the part, such as {@code index/band_key}
 */
public record NamedThings(SortedMap<String, SortedSet<Name>> byPart) {
  /** A name with its schema, both without quotes. */
  public record Name(String schema, String name) implements Comparable<Name> {
    @Override
    public int compareTo(Name other) {
      int bySchema = schema.compareTo(other.schema);
      return bySchema == 0 ? name.compareTo(other.name) : bySchema;
    }

    @Override
    public String toString() {
      return schema + "." + name;
    }
  }

  private static final String OPERATOR_SIGNS = "+-*/<>=~!@#%^&|`?";

  /** The parts that name something, and no others. */
  public static NamedThings of(TableStructure table) {
    SortedMap<String, SortedSet<Name>> out = new TreeMap<>();
    for (Column c : table.columns()) {
      SortedSet<Name> names = in(c.type());
      names.addAll(in(c.defaultExpression() == null ? "" : c.defaultExpression()));
      names.addAll(in(c.collation() == null ? "" : c.collation()));
      names.addAll(in(c.generated() == null ? "" : c.generated()));
      put(out, "column/" + c.name(), names);
    }
    for (Constraint c : table.constraints()) {
      put(out, "constraint/" + c.name(), in(c.definition()));
    }
    for (Index i : table.indexes()) {
      put(out, "index/" + i.name(), in(i.definition()));
    }
    return new NamedThings(out);
  }

  private static void put(Map<String, SortedSet<Name>> out, String part, SortedSet<Name> names) {
    if (!names.isEmpty()) {
      out.put(part, names);
    }
  }

  /** Names with a schema in an expression as the server prints it. */
  public static SortedSet<Name> in(String expression) {
    Reader r = new Reader(expression);
    SortedSet<Name> out = new TreeSet<>();
    while (r.at < expression.length()) {
      char c = expression.charAt(r.at);
      if (c == '\'') {
        r.text();
      } else if (c == '"' || Character.isLetter(c) || c == '_') {
        String first = r.identifier();
        if (r.peek() == '.') {
          r.at++;
          String second = OPERATOR_SIGNS.indexOf(r.peek()) >= 0 ? r.operator() : r.identifier();
          boolean own = first.equals("pg_catalog") || first.equals("information_schema");
          if (!second.isEmpty() && !own) {
            out.add(new Name(first, second));
          }
        }
      } else if (Character.isDigit(c)) {
        r.number();
      } else {
        r.at++;
      }
    }
    return out;
  }

  /** Goes through an expression. */
  private static final class Reader {
    private final String text;
    private int at;

    Reader(String text) {
      this.text = text;
    }

    char peek() {
      return at < text.length() ? text.charAt(at) : '\0';
    }

    /** A text in quotes; one with a backslash begins with E, which was read as a word before. */
    void text() {
      boolean escapes = at > 0 && (text.charAt(at - 1) == 'E' || text.charAt(at - 1) == 'e');
      at++;
      while (at < text.length()) {
        char c = text.charAt(at++);
        if (escapes && c == '\\') {
          at++;
        } else if (c == '\'') {
          if (peek() != '\'') {
            return;
          }
          at++;
        }
      }
    }

    String identifier() {
      StringBuilder out = new StringBuilder();
      if (peek() == '"') {
        at++;
        while (at < text.length()) {
          char c = text.charAt(at++);
          if (c == '"') {
            if (peek() != '"') {
              break;
            }
            at++;
          }
          out.append(c);
        }
        return out.toString();
      }
      while (Character.isLetterOrDigit(peek()) || peek() == '_' || peek() == '$') {
        out.append(text.charAt(at++));
      }
      return out.toString();
    }

    String operator() {
      int from = at;
      while (peek() != '\0' && OPERATOR_SIGNS.indexOf(peek()) >= 0) {
        at++;
      }
      return text.substring(from, at);
    }

    /** The dot of a number is none of a name. */
    void number() {
      while (Character.isDigit(peek()) || peek() == '.') {
        at++;
      }
    }
  }
}
