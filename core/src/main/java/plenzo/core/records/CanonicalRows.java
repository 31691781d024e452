package plenzo.core.records;

import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Rows that a person wrote: each value takes its canonical form when it is read, or is refused. */
public final class CanonicalRows extends RowReader {
  private final Set<String> filled;

  public CanonicalRows(InputStream in, int keyColumns) {
    this(in, keyColumns, Set.of());
  }

  /**
   * @param filled columns that have a value in every row
   */
  public CanonicalRows(InputStream in, int keyColumns, Set<String> filled) {
    super(in, keyColumns);
    this.filled = filled;
  }

  @Override
  protected Row read(Row row) {
    List<String> types = header().types();
    List<@Nullable String> out = new ArrayList<>();
    for (int i = 0; i < types.size(); i++) {
      String value = row.get(i);
      if (value != null && value.indexOf('\0') >= 0) {
        throw new IllegalArgumentException(
            "In row "
                + row.keyLine().replace('\0', '?')
                + " the value of "
                + header().names().get(i)
                + " has a zero byte, which no text of a database has");
      }
      if (value == null && filled.contains(header().names().get(i))) {
        throw new IllegalArgumentException(
            "In row " + row.keyLine() + " the column " + header().names().get(i) + " has no value");
      }
      try {
        out.add(value == null ? null : CanonicalValue.of(types.get(i), value));
      } catch (IllegalArgumentException e) {
        throw new IllegalArgumentException(
            "In row "
                + row.keyLine()
                + " the value of "
                + header().names().get(i)
                + " "
                + e.getMessage(),
            e);
      }
    }
    return Objects.equals(out, row.fields()) ? row : Row.of(header(), out);
  }
}
