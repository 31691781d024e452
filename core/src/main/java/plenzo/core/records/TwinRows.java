package plenzo.core.records;

/** Two rows that the key does not tell apart. Its message names them: not for everybody. */
public final class TwinRows extends IllegalArgumentException {
  TwinRows(Row row) {
    super("Two rows have the same key: " + row.keyLine());
  }
}
