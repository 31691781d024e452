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
 * name, so that the other one has its own again, and then it goes. The same the other way round:
 * something goes, and another thing takes its name in the same step. It gives way as "price (older
 * one)", and comes anew on the way back.
 */
final class GivingWay {
  private static final String MARK = " (newer one)";

  private static final String OLDER = " (older one)";

  /** Of what stands aside while others take its name. */
  private static final String ASIDE = " (on its way)";

  /** Bytes of a name, as the server has it. */
  private static final int LONGEST = 63;

  private GivingWay() {}

  static String of(String name) {
    return marked(name, MARK);
  }

  /** The name of what goes, once another has its own. */
  static String older(String name) {
    return marked(name, OLDER);
  }

  static TableName older(TableName name) {
    return new TableName(name.schema(), older(name.table()));
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
    return name.endsWith(MARK) || isOlder(name);
  }

  /** Whether it is the name of what goes, because another takes its own. */
  static boolean isOlder(String name) {
    return name.endsWith(OLDER);
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

  /**
   * @param name a column's, or a table's
   */
  static boolean isOlderOne(Object name) {
    return isOlder(name instanceof TableName t ? t.table() : name.toString());
  }

  /** Names, with what gives its own to one that takes it, and goes. */
  static <N> Map<N, N> leaving(Map<N, N> names, Predicate<N> had, UnaryOperator<N> way) {
    Map<N, N> out = new LinkedHashMap<>(names);
    out.values().removeIf(GivingWay::isOlderOne);
    List.copyOf(out.entrySet()).stream()
        .filter(n -> !isOne(n.getKey()))
        .map(Map.Entry::getValue)
        .filter(n -> !isOne(n) && had.test(n) && !out.containsKey(n))
        .forEach(n -> out.put(n, way.apply(n)));
    return out;
  }

  /** Names, with what takes one that was given up. */
  static <N> Map<N, N> taking(Map<N, N> names, Predicate<N> taken, UnaryOperator<N> way) {
    Map<N, N> out = new LinkedHashMap<>(names);
    out.keySet().removeIf(n -> isOne(n) && !isOlderOne(n));
    List.copyOf(out.keySet()).stream()
        .filter(n -> !isOlderOne(out.get(n)))
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
