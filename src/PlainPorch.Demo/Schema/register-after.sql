-- Unique, but no primary key: somebody once made an index to speed up a search.
CREATE UNIQUE INDEX "OWNERS_IX1" ON register."OWNERS" ("OWNR_NO");

CREATE VIEW register."V_OVERDUE" AS
SELECT b."BOAT_NO", b."NAME", o."SURNAME", o."Tel No", max(s."NEXT_DUE") AS "DUE_ON",
       current_date - max(s."NEXT_DUE") AS "DAYS_LATE"
FROM register."BOATS" b
JOIN register."SURVEYS" s ON s."BOAT_NO" = b."BOAT_NO"
LEFT JOIN register."OWNERS" o ON o."OWNR_NO" = b."OWNR_NO"
WHERE b."DEL_FLG" IS NULL
GROUP BY b."BOAT_NO", b."NAME", o."SURNAME", o."Tel No"
HAVING max(s."NEXT_DUE") < current_date;
