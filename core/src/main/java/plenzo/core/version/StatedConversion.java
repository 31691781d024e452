package plenzo.core.version;

import plenzo.core.component.ComponentKey;

/**
 * A person's word on what the values of a column are worked out from.
 *
 * @param component the table
 * @param column forth one of the table as it is picked, back one of the version drafted from
 * @param expression over the columns of the other side
 * @param back whether it is for going back to the version drafted from
 */
public record StatedConversion(
    ComponentKey component, String column, String expression, boolean back) {
  /** Whether both are about one column on one way. */
  public boolean sameColumn(StatedConversion other) {
    return component.equals(other.component) && column.equals(other.column) && back == other.back;
  }
}
