package plenzo.core.records;

import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Rows that a person wrote: each value takes its canonical form when it is read, or is refused. */
public final class CanonicalRows extends RowReader {
  public CanonicalRows(InputStream in, int keyColumns) {
    super(in, keyColumns);
  }

  @Override
  protected Row read(Row row) {
    List<String> types = header().types();
    List<@Nullable String> out = new ArrayList<>();
    for (int i = 0; i < types.size(); i++) {
      String value = row.get(i);
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
