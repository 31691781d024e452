package plenzo.core.table;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import plenzo.core.component.TableName;

/**
 * Something new that takes a name which another thing gives up in the same step. Before, nothing
 * has its name: it is told by one of its own, "price (newer one)". On the way back it gets that
 * name, so that the other one has its own again, and then it goes.
 */
final class GivingWay {
  private static final String MARK = " (newer one)";

  /** Of what stands aside while others take its name. */
  private static final String ASIDE = " (on its way)";

  /** Bytes of a name, as the server has it. */
  private static final int LONGEST = 63;

  private GivingWay() {}

  static String of(String name) {
    return marked(name, MARK);
  }

  /** A name that nothing else has, until it has the one that it gets. */
  static String aside(String name) {
    return marked(name, ASIDE);
  }

  private static String marked(String name, String mark) {
    int end = name.length();
    while (bytes(name.substring(0, end)) > LONGEST - mark.length()) {
      end = name.offsetByCodePoints(end, -1);
    }
    return name.substring(0, end) + mark;
  }

  private static int bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8).length;
  }

  static TableName of(TableName name) {
    return new TableName(name.schema(), of(name.table()));
  }

  static boolean is(String name) {
    return name.endsWith(MARK);
  }

  static boolean is(TableName name) {
    return is(name.table());
  }

  /**
   * @param name a column's, or a table's
   */
  static boolean isOne(Object name) {
    return name instanceof TableName t ? is(t) : is(name.toString());
  }

  /** Names, with what takes one that was given up. */
  static <N> Map<N, N> taking(Map<N, N> names, Predicate<N> taken, UnaryOperator<N> way) {
    Map<N, N> out = new LinkedHashMap<>(names);
    out.keySet().removeIf(GivingWay::isOne);
    List.copyOf(out.keySet()).stream()
        .filter(n -> taken.test(n) && !out.containsValue(n))
        .forEach(n -> out.put(way.apply(n), n));
    return out;
  }

  /**
   * Names without what gives way to nothing: whose name nobody gave up before, or nobody takes
   * afterwards.
   */
  static <N> void settle(Map<N, N> names) {
    Map<N, N> all = new LinkedHashMap<>(names);
    names.entrySet().removeIf(n -> isOne(n.getKey()) && !all.containsKey(n.getValue()));
    names.entrySet().removeIf(n -> isOne(n.getValue()) && !all.containsValue(n.getKey()));
  }
}
