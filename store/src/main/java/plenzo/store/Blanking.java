package plenzo.store;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import plenzo.core.digest.Digest;
import plenzo.core.history.Names;
import plenzo.core.keeping.Kept.Blanked;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;
import tools.jackson.databind.node.StringNode;

/**
 * Takes the names of a person out of everything that is stored: the salts of their signs, what
 * people read of the history, and every record. The chain of the history stays as it is.
 */
final class Blanking {
  /**
   * Parts of records that hold sign-in names. Elsewhere a text that happens to be the same is a
   * key, a code or a value.
   */
  private static final Set<String> PERSONS =
      Set.of(
          "by",
          "of",
          "from",
          "author",
          "authors",
          "actor",
          "login",
          "logins",
          "person",
          "second",
          "runner",
          "startedBy",
          "abortedBy",
          "preparedBy",
          "handedOutBy",
          "closedBy",
          "takenBy",
          "setBy",
          "secretSetBy",
          "strangers",
          "subject",
          "tells",
          "who",
          "said",
          "writesAs");

  /** A part that is a whole document, kept as text. */
  private static final String DOCUMENT = "body";

  private static final int PART = 200;

  private final RecordMapper records;
  private final EventMapper events;

  Blanking(RecordMapper records, EventMapper events) {
    this.records = records;
    this.events = events;
  }

  /**
   * @param login of the person; their own record is taken away before
   * @param as what is read in place of every name of theirs
   */
  Blanked blank(String login, String as) {
    List<Names.Called> names = events.calledOf(login);
    Map<String, String> words = new TreeMap<>(java.util.Comparator.reverseOrder());
    names.forEach(n -> words.put(n.word(), as));
    long unsigned = events.unsigned(login);
    events.blank(login, as);
    long entries = history(names);
    long all = 0;
    for (Table t : Table.values()) {
      all += table(t.code(), words);
    }
    all += matters(words);
    all += journal(words);
    records.renamePreparer(login, as);
    records.renameStarter(login, as);
    return new Blanked(
        names.stream().map(Names.Called::id).sorted().toList(), entries, all, unsigned);
  }

  private long history(List<Names.Called> names) {
    Names now = new Names(events.called());
    Map<Long, EventMapper.HistoryRow> found = new LinkedHashMap<>();
    for (Names.Called n : names) {
      long after = 0;
      while (true) {
        List<EventMapper.HistoryRow> part = events.signed(n.id(), after, PART);
        part.forEach(r -> found.put(r.sequence(), r));
        for (EventMapper.HistoryRow r : part) {
          events.reword(
              r.sequence(),
              now.shown(String.valueOf(r.chainedActor())),
              now.shown(String.valueOf(r.chainedText())));
        }
        if (part.size() < PART) {
          break;
        }
        after = part.get(part.size() - 1).sequence();
      }
    }
    return found.size();
  }

  private long table(String table, Map<String, String> words) {
    long changed = 0;
    for (BodyRow row : holding(table, words)) {
      JsonNode body = MyBatisShelf.JSON.readTree(row.body());
      if (rewrite(body, words)) {
        records.blanked(table, row.id(), MyBatisShelf.JSON.writeValueAsString(body));
        changed++;
      }
    }
    return changed;
  }

  private List<BodyRow> holding(String table, Map<String, String> words) {
    Map<String, BodyRow> out = new LinkedHashMap<>();
    for (String word : words.keySet()) {
      records.holding(table, word).forEach(r -> out.put(r.id(), r));
    }
    return new ArrayList<>(out.values());
  }

  /** What of cases is large lies apart, with the digest of its text. */
  private long matters(Map<String, String> words) {
    Set<String> ids = new java.util.TreeSet<>();
    words.keySet().forEach(w -> ids.addAll(records.mattersHolding(w)));
    long changed = 0;
    for (String id : ids) {
      JsonNode body = MyBatisShelf.JSON.readTree(String.valueOf(records.matter(id)));
      if (rewrite(body, words)) {
        String text = MyBatisShelf.JSON.writeValueAsString(body);
        records.updateMatter(id, Digest.of(text).hex(), text);
        changed++;
      }
    }
    return changed;
  }

  private long journal(Map<String, String> words) {
    Map<Long, String> found = new LinkedHashMap<>();
    words
        .keySet()
        .forEach(w -> events.journalHolding(w).forEach(r -> found.put(r.sequence(), r.text())));
    found.forEach((n, text) -> events.rewordJournal(n, Names.replaced(text, words)));
    return found.size();
  }

  private static boolean rewrite(JsonNode at, Map<String, String> words) {
    boolean changed = false;
    if (at instanceof ObjectNode object) {
      for (String name : List.copyOf(object.propertyNames())) {
        JsonNode value = object.get(name);
        String next = value.isString() ? next(name, value.asString(), words) : null;
        if (next != null) {
          object.put(name, next);
          changed = true;
        } else if (value instanceof ArrayNode list) {
          changed |= list(name, list, words);
        } else {
          changed |= rewrite(value, words);
        }
      }
    } else if (at instanceof ArrayNode list) {
      changed |= list("", list, words);
    }
    return changed;
  }

  private static boolean list(String name, ArrayNode list, Map<String, String> words) {
    boolean changed = false;
    for (int n = 0; n < list.size(); n++) {
      JsonNode value = list.get(n);
      String next = value.isString() ? next(name, value.asString(), words) : null;
      if (next != null) {
        list.set(n, StringNode.valueOf(next));
        changed = true;
      } else {
        changed |= rewrite(value, words);
      }
    }
    return changed;
  }

  /** What stands there instead; null when it stays. */
  private static @org.jspecify.annotations.Nullable String next(
      String name, String value, Map<String, String> words) {
    if (words.containsKey(value)) {
      return PERSONS.contains(name) || value.indexOf(' ') >= 0 ? words.get(value) : null;
    }
    if (value.indexOf(' ') < 0 && !name.equals(DOCUMENT)) {
      return null; // a key, a code, a digest: no sentence
    }
    String next = Names.replaced(value, words);
    return next.equals(value) ? null : next;
  }
}
