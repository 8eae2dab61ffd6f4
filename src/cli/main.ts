console.log("soon");
