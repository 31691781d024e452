package plenzo.core.history;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;

/**
 * What stands in the chain of the history in place of the names of people. Each name has a sign
 * that is made of it and of a salt; the salt and the name stand beside the chain. As long as they
 * do, everybody can see that the sign is that name's; when both are blanked nobody can tell whose
 * it was, and the chain is as unbroken as before.
 */
public final class Names {
  /** No names at all. */
  public static final Names NONE = new Names(List.of());

  /** Event by which names were blanked; its text ends with their signs. */
  public static final String BLANKED = "name blanked";

  /** Around a sign; both are of the private use area, and are taken out of what comes in. */
  private static final char BEGIN = '\uE000';

  private static final char END = '\uE001';

  private static final int LENGTH = 32;

  private static final Pattern SIGN = Pattern.compile(BEGIN + "([0-9a-f]{" + LENGTH + "})" + END);

  /** One word: letters, digits, and what sign-in names and addresses have between them. */
  private static final Pattern WORD = Pattern.compile("[\\p{L}\\p{N}][\\p{L}\\p{N}._@+-]*");

  /**
   * A name of a person.
   *
   * @param id of which its sign is made
   * @param salt null when it was blanked
   * @param word the name: a sign-in name, a full name or an address; of a blanked one what is shown
   *     in its place
   * @param login of the person whose it is; of a blanked one what is shown in its place
   */
  public record Called(String id, @Nullable String salt, String word, String login) {
    public boolean blanked() {
      return salt == null;
    }

    /** Whether the sign is this name's; true of a blanked one, of which nobody can tell. */
    public boolean holds() {
      return salt == null || id.equals(Names.id(salt, word));
    }
  }

  private final Map<String, Called> byId = new HashMap<>();
  private final Map<String, Called> byWord = new HashMap<>();
  private final List<Called> manyWords = new ArrayList<>();

  public Names(Collection<Called> all) {
    for (Called c : all) {
      byId.put(c.id(), c);
      if (!c.blanked()) {
        byWord.put(c.word(), c);
        if (!WORD.matcher(c.word()).matches()) {
          manyWords.add(c);
        }
      }
    }
    manyWords.sort(Comparator.comparingInt((Called c) -> c.word().length()).reversed());
  }

  /** The id of a name with a salt: half of SHA-256, which nobody leads back to it. */
  public static String id(String salt, String word) {
    return Digest.of(salt + " " + word).hex().substring(0, LENGTH);
  }

  private static String sign(Called c) {
    return BEGIN + c.id() + END;
  }

  /** The sign of one name; itself where it is no name of a person. */
  String sign(String actor) {
    Called c = byWord.get(plain(actor));
    return c == null ? plain(actor) : sign(c);
  }

  /** A text with signs in place of every name in it. */
  String signs(String text) {
    String out = plain(text);
    for (Called c : manyWords) {
      if (out.contains(c.word())) {
        out = out.replace(c.word(), sign(c));
      }
    }
    return WORD.matcher(out).replaceAll(m -> Matcher.quoteReplacement(signed(m.group())));
  }

  /** Marks at the end of a sentence are no part of a name. */
  private String signed(String word) {
    int end = word.length();
    while (end > 0) {
      Called c = byWord.get(word.substring(0, end));
      if (c != null) {
        return sign(c) + word.substring(end);
      }
      char last = word.charAt(end - 1);
      if (last != '.' && last != '-') {
        return word;
      }
      end--;
    }
    return word;
  }

  /** What comes in holds no signs of its own. */
  private static String plain(String text) {
    return text.indexOf(BEGIN) < 0 && text.indexOf(END) < 0
        ? text
        : text.replace(BEGIN, ' ').replace(END, ' ');
  }

  /** A text of the chain as people read it. */
  public String shown(String chained) {
    return chained.indexOf(BEGIN) < 0
        ? chained
        : SIGN.matcher(chained)
            .replaceAll(
                m -> {
                  Called c = byId.get(m.group(1));
                  return Matcher.quoteReplacement(c == null ? "somebody" : c.word());
                });
  }

  /** The same of a text that is no entry's: every name of a person is another one. */
  public static String replaced(String text, Map<String, String> names) {
    String out = text;
    for (Map.Entry<String, String> e : names.entrySet()) {
      if (!WORD.matcher(e.getKey()).matches()) {
        out = out.replace(e.getKey(), e.getValue());
      }
    }
    return WORD.matcher(out)
        .replaceAll(
            m -> {
              String word = m.group();
              int end = word.length();
              while (end > 0 && !names.containsKey(word.substring(0, end))) {
                char last = word.charAt(end - 1);
                end = last == '.' || last == '-' ? end - 1 : 0;
              }
              return Matcher.quoteReplacement(
                  end == 0 ? word : names.get(word.substring(0, end)) + word.substring(end));
            });
  }

  /** The name of a sign; null when none is known. */
  public @Nullable Called find(String id) {
    return byId.get(id);
  }

  public Collection<Called> all() {
    return byId.values();
  }

  /** The names of a person, by their sign-in name. */
  public List<Called> of(String login) {
    return byId.values().stream().filter(c -> c.login().equals(login)).toList();
  }

  /** Ids of signs in a text of the chain. */
  public static List<String> signsIn(String chained) {
    return chained.indexOf(BEGIN) < 0
        ? List.of()
        : SIGN.matcher(chained).results().map(m -> m.group(1)).toList();
  }
}
