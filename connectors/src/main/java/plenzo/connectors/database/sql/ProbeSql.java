package plenzo.connectors.database.sql;

/** A query of a person's, fenced in: a cursor takes one query that reads, and nothing else. */
public final class ProbeSql {
  /** Rows of one answer. */
  public static final int ROWS = 50;

  public static final String FETCH = "FETCH " + (ROWS + 1) + " FROM plenzo_asked";
  public static final String CLOSE = "CLOSE plenzo_asked";
  public static final String PATIENCE = "SET LOCAL statement_timeout = '10s'";
  public static final String SAVEPOINT = "SAVEPOINT asked";
  public static final String BACK = "ROLLBACK TO SAVEPOINT asked";

  private ProbeSql() {}

  /**
   * @throws IllegalArgumentException when it could be more than one statement
   */
  public static String cursor(String query) {
    if (query.contains(";")) {
      throw new IllegalArgumentException("A query of a question has no semicolon");
    }
    return "DECLARE plenzo_asked NO SCROLL CURSOR FOR " + query;
  }
}
