package plenzo.core.version;

import java.math.BigInteger;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A number by Semantic Versioning 2.0; ordered by its precedence rules, build part ignored. */
public record SemVer(String text) implements Comparable<SemVer> {
  /** The expression that semver.org suggests. */
  private static final Pattern FORM =
      Pattern.compile(
          "(0|[1-9]\\d*)\\.(0|[1-9]\\d*)\\.(0|[1-9]\\d*)(?:-((?:0|[1-9]\\d*|\\d*[a-zA-Z-][0-9a-zA-Z-]*)(?:\\.(?:0|[1-9]\\d*|\\d*[a-zA-Z-][0-9a-zA-Z-]*))*))?(?:\\+([0-9a-zA-Z-]+(?:\\.[0-9a-zA-Z-]+)*))?");

  public SemVer {
    if (text.length() > 100 || !FORM.matcher(text).matches()) {
      throw new IllegalArgumentException(
          "\"" + text + "\" is not a version number; write it as 2.4.0 (Semantic Versioning 2.0)");
    }
  }

  private Matcher parts() {
    Matcher m = FORM.matcher(text);
    if (!m.matches()) {
      throw new IllegalStateException(text);
    }
    return m;
  }

  /** The next minor number, proposed for a new draft. */
  public SemVer nextMinor() {
    Matcher m = parts();
    return new SemVer(m.group(1) + "." + new BigInteger(m.group(2)).add(BigInteger.ONE) + ".0");
  }

  /** The next patch number, proposed where the next minor one is taken. */
  public SemVer nextPatch() {
    Matcher m = parts();
    String patch = new BigInteger(m.group(3)).add(BigInteger.ONE).toString();
    return new SemVer(m.group(1) + "." + m.group(2) + "." + patch);
  }

  @Override
  public int compareTo(SemVer other) {
    Matcher a = parts();
    Matcher b = other.parts();
    for (int i = 1; i <= 3; i++) {
      int c = new BigInteger(a.group(i)).compareTo(new BigInteger(b.group(i)));
      if (c != 0) {
        return c;
      }
    }
    String x = a.group(4);
    String y = b.group(4);
    if (x == null || y == null) {
      return x == null ? (y == null ? 0 : 1) : -1;
    }
    return identifiers(List.of(x.split("\\.")), List.of(y.split("\\.")));
  }

  private static int identifiers(List<String> x, List<String> y) {
    for (int i = 0; i < Math.min(x.size(), y.size()); i++) {
      boolean nx = x.get(i).matches("\\d+");
      boolean ny = y.get(i).matches("\\d+");
      int c;
      if (nx && ny) {
        c = new BigInteger(x.get(i)).compareTo(new BigInteger(y.get(i)));
      } else if (nx != ny) {
        c = nx ? -1 : 1;
      } else {
        c = x.get(i).compareTo(y.get(i));
      }
      if (c != 0) {
        return c;
      }
    }
    return Integer.compare(x.size(), y.size());
  }

  @Override
  public String toString() {
    return text;
  }
}
